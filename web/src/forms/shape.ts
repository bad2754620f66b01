/** What a form asks for and how it is sent: what is missing or no number is said by its own name, with an example. The
 * server says the rest: bounds, and what does not go together. */
import * as z from "zod";
import { isScientific, numbersIn, parseTyped } from "../domain/typed";
import { measured, type Measure } from "../domain/measures";
import { fromLocalField } from "../domain/times";

// The page may not make code out of text: its own rules for scripts forbid it.
z.config({ jitless: true });

const trimmed = z.string().transform((text) => text.trim());

/** A text that has to be there. */
export const words = (what: string, example: string) =>
  trimmed.refine((text) => text !== "", { error: `Needed: ${what}, for example ${example}.` });

/** A text that may be left out. */
export const maybeWords = trimmed;

function sent(
  text: string,
  measure: Measure,
  what: string,
  example: number,
  issues: z.RefinementCtx<string>,
): string {
  const { unit, typed, shown } = measured(measure);
  const bare = unit !== "" && text.endsWith(unit) ? text.slice(0, -unit.length).trim() : text;
  const isNumber = measure === "scientific" ? isScientific(bare) : parseTyped(bare) !== null;
  if (isNumber) return typed(bare);
  const needed = `Needed: ${what}, for example ${shown(example)}.`;
  issues.addIssue({ code: "custom", message: bare === "" ? needed : `“${text}” is not a number. ${needed}` });
  return z.NEVER;
}

/** A number in the person's unit, sent in the server's. The example is in the server's unit. */
export const quantity = (measure: Measure, what: string, example: number) =>
  trimmed.transform((text, issues) => sent(text, measure, what, example, issues));

/** A number that may be left out: then it is not known. */
export const maybeQuantity = (measure: Measure, what: string, example: number) =>
  trimmed.transform((text, issues) => (text === "" ? null : sent(text, measure, what, example, issues)));

function row(text: string, needed: string, issues: z.RefinementCtx<string>): string[] {
  const found = numbersIn(text);
  const wrong = found.find((name) => parseTyped(name) === null);
  if (wrong !== undefined)
    issues.addIssue({ code: "custom", message: `“${wrong}” is not a number. ${needed}` });
  return found;
}

/** A row of numbers with spaces between; it may be left empty. */
export const numbers = (what: string, example: string) =>
  trimmed.transform((text, issues) => row(text, `Needed: ${what}, for example ${example}.`, issues));

/** A row of at least one number. */
export const someNumbers = (what: string, example: string) =>
  trimmed.transform((text, issues) => {
    const needed = `Needed: ${what}, for example ${example}.`;
    if (text === "") issues.addIssue({ code: "custom", message: needed });
    return row(text, needed, issues);
  });

/** A date and a time by this device's clock, sent as a moment. */
export const moment = z.string().transform((text, issues) => {
  const at = fromLocalField(text);
  if (at !== null) return at;
  issues.addIssue({ code: "custom", message: "Needed: a date and a time." });
  return z.NEVER;
});

/** A moment that may be left empty. */
export const maybeMoment = z.string().transform((text, issues) => {
  const at = fromLocalField(text);
  if (at !== null || text === "") return at;
  issues.addIssue({ code: "custom", message: "Needed: a date and a time, or nothing." });
  return z.NEVER;
});

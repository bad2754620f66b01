import type { Device, Dryer, Scale } from "../../api/client";
import type { components } from "../../api/schema";
import { fixed } from "../../domain/numbers";
import { massAsRead, temp, tempStep } from "../../domain/quantities";
import type { Salt } from "./queries";

export const DEVICE_WORDS: Record<Device["kind"], string> = {
  logger: "temperature and humidity logger",
  scale: "scale",
  meter: "energy meter",
  dryer: "dryer’s own display",
};

/** The sentence that answers: what does this dryer really do? */
export function kitSentence(dryer: Dryer): string {
  const { calibration, name } = dryer;
  if (!dryer.in_service) return `${name} is out of service: nothing is planned for it.`;
  if (dryer.kind === "vacuum") return `${name} keeps spools dry; it does not heat.`;
  if (calibration.kind === "levels") return `${name} has levels; each gives its own air temperature.`;
  if (calibration.kind === "bed") {
    const share = fixed((calibration.factor ?? 0) * 100, 0);
    const doubt = fixed((calibration.factor_plus_minus ?? 0) * 100, 0);
    const source = calibration.pairs === 0 ? ", which is typical: no probe pair yet" : "";
    return `${name}: the air gets ${share} ± ${doubt} % of the bed’s warmth over the room${source}.`;
  }
  const middle = calibration.points[Math.floor(calibration.points.length / 2)];
  const offset = calibration.offset_c ?? 0;
  const doubt = middle ? ` ± ${tempStep(middle.plus_minus_c)}` : "";
  if (calibration.pairs === 0) {
    return dryer.display_offset_c === null
      ? `The display of ${name} has not been checked; the air may be off by ${doubt.replace(" ± ", "")}.`
      : `${name} reads ${about(offset)}, as you entered it.`;
  }
  return `${name} reads ${about(offset)}${doubt}: set it to ${temp(Math.round(55 + offset))} for ${temp(55)} at the spool.`;
}

function about(offset: number): string {
  if (Math.abs(offset) < 0.5) return "true";
  return `${tempStep(Math.abs(offset))} too ${offset > 0 ? "high" : "low"}`;
}

/** Scales to choose from, with what each shows. */
export const scaleOptions = (scales: readonly Scale[]) =>
  scales.map(({ id, name, resolution_g }) => ({
    value: id,
    name,
    note: `shows ${massAsRead(resolution_g)}`,
  }));

/** Salts that keep the air over them at a known humidity, the most common first. */
export const SALTS: readonly { value: Salt; name: string }[] = [
  { value: "sodium_chloride", name: "table salt" },
  { value: "magnesium_chloride", name: "magnesium chloride" },
  { value: "potassium_carbonate", name: "potassium carbonate" },
];

/** What is to be minded with a salt. */
export const SALT_CARE: Partial<Record<Salt, string>> = {
  potassium_carbonate: "Potassium carbonate burns eyes and irritates skin: wear gloves and goggles.",
};

const byHowMuch = (offset: number, doubt = ""): string =>
  `${fixed(Math.abs(offset), 1)}${doubt} % too ${offset > 0 ? "much" : "little"}`;

/** What a check of a logger’s humidity tells. */
export function checkWords(found: components["schemas"]["HumidityCheck"]): string {
  const { shown_pct, true_pct, offset_pct } = found;
  if (!found.settled) return "The reading is still moving: give it a few more hours.";
  const doubt = `± ${fixed(2 * offset_pct.uncertainty, 1)}`;
  const at = `It shows ${fixed(shown_pct, 1)} % where ${fixed(true_pct, 1)} % is true`;
  return found.tells
    ? `${at}: ${byHowMuch(offset_pct.value, ` ${doubt}`)}.`
    : `${at}: within what this check can tell, ${doubt} %.`;
}

/** What is said once a logger’s humidity was put right. */
export const offsetWords = (name: string, offset: number): string =>
  offset === 0 ? `${name} is taken at its word.` : `${name} showed ${byHowMuch(offset)}: that is taken off.`;

/** What is known of a logger’s humidity, in its row. */
export const knownOffset = ({ rh_offset_pct }: Device): string =>
  rh_offset_pct === 0 ? "" : ` · shows ${byHowMuch(rh_offset_pct)} humidity, taken off`;

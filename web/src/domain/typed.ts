/** Typed text and the number it means are two things. A comma or a point may stand for the decimals. */

const NUMBER = /^[+\-\u2212]?(\d+([.,]\d*)?|[.,]\d+)$/;

/** The number that a text means, or null where it means none. */
export function parseTyped(text: string): number | null {
  const bare = text.trim();
  if (!NUMBER.test(bare)) return null;
  return Number(bare.replace(",", ".").replace("\u2212", "-"));
}

const SCIENTIFIC = /^[+\-\u2212]?(\d+([.,]\d*)?|[.,]\d+)[eE][+-]?\d{1,3}$/;

/** Whether a text means a number where very small ones are usual: 3e-12. */
export const isScientific = (text: string): boolean => parseTyped(text) !== null || SCIENTIFIC.test(text);

/** Numbers typed in a row, as text: the server reads each and names the one that is none. */
export const numbersIn = (text: string): string[] => text.split(/[\s;]+/).filter((name) => name !== "");

/** Numbers as people read them: never more digits than their uncertainty or the scale gives. */

const MINUS = "\u2212";

/** `value` with `decimals` places and a true minus sign. */
export function fixed(value: number, decimals: number): string {
  const text = Math.abs(value).toFixed(decimals);
  return value < 0 && Number(text) !== 0 ? MINUS + text : text;
}

/** Places after the point that an uncertainty allows: one digit of it, two where that digit is 1. */
function decimalsFor(uncertainty: number, most: number): number {
  if (!(uncertainty > 0)) return most;
  const power = Math.floor(Math.log10(uncertainty));
  const leading = uncertainty / 10 ** power;
  return Math.min(Math.max(-power + (leading < 1.95 ? 1 : 0), 0), most);
}

/** "0.26 ± 0.13" for a value and what stands after its ±; at most `most` places. */
export function plusMinus(value: number, spread: number, most = 3): string {
  const decimals = decimalsFor(spread, most);
  return `${fixed(value, decimals)} ± ${fixed(Math.max(spread, 10 ** -decimals), decimals)}`;
}

const percentDecimals = (value: number): number => (value >= 9.95 ? 0 : value >= 0.995 ? 1 : 2);

/** A moisture: two places under 1 %, one place under 10 %. */
export function percent(value: number): string {
  return fixed(value, percentDecimals(value));
}

/** What stands after the ± of a moisture, with the moisture's own places. */
export function likewise(spread: number, value: number): string {
  return fixed(spread, percentDecimals(value));
}

/** A chance as people say it. */
export function chance(p: number): string {
  if (p < 0.01) return "under 1 in 100";
  return p > 0.99 ? "over 99 in 100" : `${Math.round(p * 100)} in 100`;
}

/** A span such as "0.11 to 0.33": both ends with the places that their distance allows. */
export function span(low: number, high: number): string {
  const decimals = decimalsFor((high - low) / 2, 3);
  return `${fixed(Math.max(low, 0), decimals)} to ${fixed(high, decimals)}`;
}

/** Places after the point on a scale that shows steps of `resolution` grams. */
export function scaleDecimals(resolution: number): number {
  return Math.max(0, Math.round(-Math.log10(resolution)));
}

/** A temperature: a whole degree where it is one. */
export function degrees(value: number): string {
  return fixed(value, Number.isInteger(value) ? 0 : 1);
}

/** Hours as a person sets them: "8 h", "1 h 30 min", "20 min". */
export function hours(value: number): string {
  const minutes = Math.round(value * 60);
  const whole = Math.floor(minutes / 60);
  const rest = minutes % 60;
  if (whole === 0) return `${rest} min`;
  return rest === 0 ? `${whole} h` : `${whole} h ${rest} min`;
}

/** Hours roughly, for what is only a forecast: "about 5 h". */
export function aboutHours(value: number): string {
  return value < 1
    ? `about ${Math.max(5, Math.round((value * 60) / 5) * 5)} min`
    : `about ${Math.round(value)} h`;
}

const WORDS = [
  "No",
  "One",
  "Two",
  "Three",
  "Four",
  "Five",
  "Six",
  "Seven",
  "Eight",
  "Nine",
  "Ten",
  "Eleven",
  "Twelve",
];

/** A count at the start of a sentence: "Two", or digits over twelve. */
export function countWord(count: number): string {
  return WORDS[count] ?? String(count);
}

/** The same within a sentence: "two". */
export const inCount = (count: number): string => countWord(count).toLowerCase();

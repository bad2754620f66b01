/** Temperatures, masses and sizes with their unit, in the person's units. */
import { degrees, fixed, plusMinus } from "./numbers";
import { when } from "./times";
import { parseTyped } from "./typed";
import {
  fromLength,
  fromMass,
  fromSize,
  fromTemp,
  fromTempStep,
  lengthUnit,
  massDecimals,
  massUnit,
  sizeUnit,
  tempUnit,
  toLength,
  toMass,
  toSize,
  toTemp,
  toTempStep,
  units,
} from "./units";

const tidy = (value: number): string => degrees(Number(value.toFixed(1)));

/** "63", or "145" where the person thinks in °F: the bare number. */
export const bareTemp = (celsius: number): string =>
  units().temp === "C" ? tidy(celsius) : fixed(toTemp(celsius), 0);

/** "63 °C" */
export const temp = (celsius: number): string => `${bareTemp(celsius)} ${tempUnit()}`;

/** A difference: "5 °C", "9 °F". */
export const tempStep = (celsius: number): string => `${tidy(toTempStep(celsius))} ${tempUnit()}`;

/** "640 g", to as many places of a gram. */
export const mass = (grams: number, decimals: number): string =>
  `${fixed(toMass(grams), massDecimals(decimals))} ${massUnit()}`;

/** "1.5 ± 0.2 g" */
export const massPlusMinus = (grams: number, spread: number, decimals: number): string =>
  `${plusMinus(toMass(grams), toMass(spread), massDecimals(decimals))} ${massUnit()}`;

/** A reading as the scale showed it, without more digits: "858.4 g". */
export const massAsRead = (grams: number): string => `${Number(toMass(grams).toFixed(3))} ${massUnit()}`;

/** "205 mm" or "8.1 in" */
export const size = (mm: number): string =>
  `${fixed(toSize(mm), units().length === "m" ? 0 : 1)} ${sizeUnit()}`;

function turned(text: string, isOwn: boolean, turn: (shown: number) => number): string {
  const shown = parseTyped(text);
  return isOwn || shown === null ? text.trim() : String(Number(turn(shown).toFixed(4)));
}

/** What was typed, as the server takes it; what is no number is passed on as it is, and refused there by its field. */
export const typedTemp = (text: string): string => turned(text, units().temp === "C", fromTemp);
export const typedTempStep = (text: string): string => turned(text, units().temp === "C", fromTempStep);
export const typedMass = (text: string): string => turned(text, units().mass === "g", fromMass);
export const typedSize = (text: string): string => turned(text, units().length === "m", fromSize);

export const typedLength = (text: string): string => turned(text, units().length === "m", fromLength);

/** "5.0 m" or "16 ft" of strand. */
export const length = (metres: number): string =>
  `${fixed(toLength(metres), toLength(metres) < 10 ? 1 : 0)} ${lengthUnit()}`;

/** A part of a sentence that the server says: text alone, an amount with its unit, or a moment. */
export interface SentencePart {
  text: string;
  value: number | null;
  unit: string;
  difference: boolean;
  at: string | null;
}

function partWords({ text, value, unit, difference, at }: SentencePart): string {
  if (at !== null) return when(new Date(at), new Date());
  if (value === null) return text;
  if (unit === "°C") return difference ? tempStep(value) : temp(value);
  if (unit === "g") return massAsRead(value);
  return unit === "mm" ? size(value) : text;
}

/** A sentence of the server, its amounts in the person's units and its moments by the person's clock. */
export const inWords = (parts: readonly SentencePart[]): string => parts.map(partWords).join("");

/** The person's units. The server speaks °C, g and mm; they are turned here, at the edge, and nowhere else. */

export interface Units {
  temp: "C" | "F";
  mass: "g" | "oz";
  length: "m" | "ft";
  clock: "24" | "12";
}

const G_PER_OZ = 28.349523125;
const MM_PER_INCH = 25.4;
const M_PER_FOOT = 0.3048;

let chosen: Units = { temp: "C", mass: "g", length: "m", clock: "24" };

/** Put the person's units in force; whoever does it also draws what shows them again. */
export function setUnits(units: Units) {
  chosen = units;
}

export const units = (): Units => chosen;
export const tempUnit = (): string => (chosen.temp === "C" ? "°C" : "°F");
export const massUnit = (): string => chosen.mass;
export const sizeUnit = (): string => (chosen.length === "m" ? "mm" : "in");

/** A temperature in °C as a number in the person's unit. */
export const toTemp = (celsius: number): number => (chosen.temp === "C" ? celsius : celsius * 1.8 + 32);
export const fromTemp = (shown: number): number => (chosen.temp === "C" ? shown : (shown - 32) / 1.8);
/** A difference of temperatures. */
export const toTempStep = (celsius: number): number => (chosen.temp === "C" ? celsius : celsius * 1.8);
export const fromTempStep = (shown: number): number => (chosen.temp === "C" ? shown : shown / 1.8);
export const toMass = (grams: number): number => (chosen.mass === "g" ? grams : grams / G_PER_OZ);
export const fromMass = (shown: number): number => (chosen.mass === "g" ? shown : shown * G_PER_OZ);
export const toSize = (mm: number): number => (chosen.length === "m" ? mm : mm / MM_PER_INCH);
export const fromSize = (shown: number): number => (chosen.length === "m" ? shown : shown * MM_PER_INCH);
export const lengthUnit = (): string => chosen.length;
export const toLength = (metres: number): number => (chosen.length === "m" ? metres : metres / M_PER_FOOT);
export const fromLength = (shown: number): number => (chosen.length === "m" ? shown : shown * M_PER_FOOT);
/** Places after the point in which a mass to `decimals` of a gram is written. */
export const massDecimals = (decimals: number): number => (chosen.mass === "g" ? decimals : decimals + 1);

/** Measures as fields show and take them: the unit behind the field, a number of the server's as text, and back. */
import { bareTemp, typedLength, typedMass, typedSize, typedTemp, typedTempStep } from "./quantities";
import { lengthUnit, massUnit, sizeUnit, tempUnit, toLength, toMass, toSize, toTempStep } from "./units";

export type Measure = "temp" | "step" | "mass" | "size" | "length" | "plain" | "scientific";

interface Measured {
  /** The person's unit; empty where the field names its own. */
  unit: string;
  /** A number of the server's as it stands in the field. */
  shown: (value: number) => string;
  /** What was typed as the server takes it. */
  typed: (text: string) => string;
}

const to3 = (value: number): string => String(Number(value.toFixed(3)));

/** How a measure is shown and taken in the units in force. */
export function measured(measure: Measure): Measured {
  switch (measure) {
    case "temp":
      return { unit: tempUnit(), shown: bareTemp, typed: typedTemp };
    case "step":
      return { unit: tempUnit(), shown: (value) => to3(toTempStep(value)), typed: typedTempStep };
    case "mass":
      return { unit: massUnit(), shown: (value) => to3(toMass(value)), typed: typedMass };
    case "size":
      return { unit: sizeUnit(), shown: (value) => to3(toSize(value)), typed: typedSize };
    case "length":
      return { unit: lengthUnit(), shown: (value) => to3(toLength(value)), typed: typedLength };
    case "scientific":
      return { unit: "", shown: String, typed: (text) => text };
    case "plain":
      return { unit: "", shown: to3, typed: (text) => text };
  }
}

/** A number of the server's as text for its field; empty where it is not known. */
export const shownIn = (measure: Measure, value: number | null | undefined): string =>
  value === null || value === undefined ? "" : measured(measure).shown(value);

import { bisectLeft } from "d3-array";
import { type ScaleLinear, scaleLinear } from "d3-scale";
import { toTemp, fromTemp } from "../domain/units";
import { waterColour } from "./waterColour";

/** Moisture over temperature × hours: `moisture[row][column]` at `temps[row]` °C and `hours[column]`. */
export interface Field {
  temps: readonly number[];
  hours: readonly number[];
  moisture: readonly (readonly number[])[];
}

export interface Point {
  temp: number;
  hours: number;
}

/** Where `value` lies among rising `values`: the one at or before it, and the share of the way to the next. */
function place(values: readonly number[], value: number): [number, number] {
  const after = Math.min(Math.max(bisectLeft(values, value), 1), values.length - 1);
  const low = values[after - 1] ?? 0;
  const high = values[after] ?? 1;
  return [after - 1, Math.min(Math.max((value - low) / (high - low), 0), 1)];
}

/** The moisture at a point, by straight lines between the four about it; at the edge beyond the field. */
export function moistureAt(field: Field, { temp, hours }: Point): number {
  const [row, up] = place(field.temps, temp);
  const [column, on] = place(field.hours, hours);
  const at = (r: number, c: number) => field.moisture[r]?.[c] ?? 0;
  const below = at(row, column) * (1 - on) + at(row, column + 1) * on;
  const above = at(row + 1, column) * (1 - on) + at(row + 1, column + 1) * on;
  return below * (1 - up) + above * up;
}

/** When each row first comes down to `mark`, h; null where it does not. */
export function crossings(field: Field, mark: number): (number | null)[] {
  return field.moisture.map((row) => {
    const after = row.findIndex((value) => value <= mark);
    if (after < 0) return null;
    if (after === 0) return field.hours[0] ?? 0;
    const before = row[after - 1] ?? 0;
    const here = row[after] ?? 0;
    const from = field.hours[after - 1] ?? 0;
    return from + ((field.hours[after] ?? 0) - from) * ((before - mark) / (before - here));
  });
}

/** The lowest temperature whose floor lies at or under `mark`: under it the room's air stops drying short of the mark. */
export function coolestThatGetsTo(
  mark: number,
  temps: readonly number[],
  floor: readonly number[],
): number | null {
  const at = floor.findIndex((value) => value <= mark);
  if (at < 0) return null;
  if (at === 0) return temps[0] ?? null;
  const before = floor[at - 1] ?? 0;
  const here = floor[at] ?? 0;
  const from = temps[at - 1] ?? 0;
  return from + ((temps[at] ?? 0) - from) * ((before - mark) / (before - here));
}

/** The inside of the map in pixels, and what a temperature (°C) and an hour come to there. */
export interface MapFrame {
  width: number;
  height: number;
  left: number;
  top: number;
  right: number;
  bottom: number;
  x: ScaleLinear<number, number>;
  y: ScaleLinear<number, number>;
}

const PAD = { left: 40, right: 8, top: 6, bottom: 24 };

export function mapFrame(field: Field, width: number, height: number): MapFrame {
  const inside = { left: PAD.left, top: PAD.top, right: width - PAD.right, bottom: height - PAD.bottom };
  const [cool, hot] = [field.temps[0] ?? 0, field.temps.at(-1) ?? 100];
  return {
    width,
    height,
    ...inside,
    x: scaleLinear([0, field.hours.at(-1) ?? 24], [inside.left, inside.right]),
    y: scaleLinear([cool, hot], [inside.bottom, inside.top]),
  };
}

/** Round temperatures in the person's unit, each with its place in °C. */
export function tempTicks({ y }: MapFrame): { celsius: number; label: string }[] {
  const [cool = 0, hot = 100] = y.domain();
  return scaleLinear([toTemp(cool), toTemp(hot)], [0, 1])
    .ticks(7)
    .map((shown) => ({ celsius: fromTemp(shown), label: String(shown) }));
}

/** The three parts of "rgb(1, 2, 3)", which is how the scale writes its colours. */
const rgb = (text: string): number[] => (text.match(/\d+/g) ?? []).slice(0, 3).map(Number);

const SHADES = 256;
const WETTEST = 1.6; // times the trouble mark: wetter looks no different

/** Paint the field in the water colours: each pixel's moisture against the trouble mark, as `moistureAt` has it. */
export function paint(canvas: HTMLCanvasElement, field: Field, frame: MapFrame, trouble: number) {
  const width = Math.max(1, Math.round(frame.right - frame.left));
  const height = Math.max(1, Math.round(frame.bottom - frame.top));
  canvas.width = width;
  canvas.height = height;
  const context = canvas.getContext("2d");
  if (!context) return;
  const image = context.createImageData(width, height);
  // A pixel is one number of four bytes, in whichever order this machine has them.
  const pixels = new Uint32Array(image.data.buffer);
  const colours = Array.from({ length: SHADES }, (_, n) => rgb(waterColour((n / (SHADES - 1)) * WETTEST)));
  const shades = new Uint32Array(Uint8ClampedArray.from(colours.flatMap((it) => [...it, 255])).buffer);
  const columns = Array.from({ length: width }, (_, n) =>
    place(field.hours, frame.x.invert(frame.left + n + 0.5)),
  );
  let at = 0;
  for (let row = 0; row < height; row++) {
    const [low, up] = place(field.temps, frame.y.invert(frame.top + row + 0.5));
    const above = field.moisture[low + 1] ?? [];
    const line = (field.moisture[low] ?? []).map((below, n) => below * (1 - up) + (above[n] ?? below) * up);
    for (const [before, on] of columns) {
      const moisture = (line[before] ?? 0) * (1 - on) + (line[before + 1] ?? 0) * on;
      const shade = Math.round((moisture / trouble / WETTEST) * (SHADES - 1));
      pixels[at++] = shades[Math.min(SHADES - 1, Math.max(0, shade))] ?? 0;
    }
  }
  context.putImageData(image, 0, 0);
}

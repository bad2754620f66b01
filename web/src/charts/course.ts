import { max } from "d3-array";
import { type ScaleLinear, scaleLinear } from "d3-scale";

export interface CoursePoint {
  time: number;
  mean: number;
  low: number;
  high: number;
}

export interface Seen {
  time: number;
  moisture: number;
  plusMinus: number;
}

export interface Mark {
  at: number;
  name: string;
  kind: "clean" | "trouble" | "floor";
}

export interface Moment {
  at: number;
  name: string;
  strong?: boolean;
}

/** Where the chart's inside lies, and what a time and a moisture come to in pixels. */
export interface Frame {
  left: number;
  right: number;
  top: number;
  bottom: number;
  x: ScaleLinear<number, number>;
  y: ScaleLinear<number, number>;
}

const PAD = { top: 14, right: 12, bottom: 30, left: 44 };

/** The frame that holds all that is drawn. The trouble mark is shown where it falls inside, and stretches nothing. */
export function frameOf(
  width: number,
  height: number,
  drawn: { course: CoursePoint[]; beside: CoursePoint[]; seen: Seen[]; marks: Mark[] },
): Frame {
  const highest = max([
    ...drawn.course.map((p) => p.high),
    ...drawn.beside.map((p) => p.mean),
    ...drawn.seen.map((p) => p.moisture + p.plusMinus),
    ...drawn.marks.filter((m) => m.kind !== "trouble").map((m) => m.at),
  ]);
  const inside = { left: PAD.left, right: width - PAD.right, top: PAD.top, bottom: height - PAD.bottom };
  return {
    ...inside,
    x: scaleLinear([0, max(drawn.course, (p) => p.time) ?? 1], [inside.left, inside.right]),
    y: scaleLinear([0, (highest ?? 1) * 1.04], [inside.bottom, inside.top]).nice(5),
  };
}

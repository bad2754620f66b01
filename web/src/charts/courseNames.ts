/** Where the names of a course's lines stand: beside their line, and clear of points, error bars, curves and one another. */
import { range } from "d3-array";
import type { CoursePoint, Frame, Mark, Moment, Seen } from "./course";
import { type Box, settle, textWidth } from "./labels";

const SIZE = 13;
const HEIGHT = 17;
const STEP = 24;
const GAP = 5;

export interface PlacedName {
  text: string;
  kind: Mark["kind"] | "moment" | "curve";
  box: Box;
}

export interface Drawn {
  curves: CoursePoint[][];
  /** The one of the curves that has a name of its own. */
  beside?: { name: string; course: CoursePoint[] } | undefined;
  seen: Seen[];
  marks: Mark[];
  moments: Moment[];
}

/** The marks that fall inside the frame: a threshold far above what is drawn stretches nothing and is left out. */
export function marksInside(frame: Frame, marks: Mark[]): Mark[] {
  const top = frame.y.domain()[1] ?? 0;
  return marks.filter((mark) => mark.at <= top);
}

/** A curve as boxes along its way. */
function along({ x, y }: Frame, course: CoursePoint[]): Box[] {
  return course.slice(1).map((point, index) => {
    const before = course[index] ?? point;
    const [from, to] = [y(before.mean), y(point.mean)];
    return {
      x: x(before.time),
      y: Math.min(from, to) - 2,
      width: x(point.time) - x(before.time),
      height: Math.abs(to - from) + 4,
    };
  });
}

/** Everything a name should not lie on. */
export function obstacles(frame: Frame, drawn: Drawn): Box[] {
  const { x, y, left, right, top, bottom } = frame;
  return [
    ...drawn.seen.flatMap((point) => {
      const [low, high] = [y(point.moisture - point.plusMinus), y(point.moisture + point.plusMinus)];
      return [
        { x: x(point.time) - 7, y: y(point.moisture) - 7, width: 14, height: 14 },
        { x: x(point.time) - 2, y: high, width: 4, height: low - high },
      ];
    }),
    ...marksInside(frame, drawn.marks).map((mark) => ({
      x: left,
      y: y(mark.at) - 1,
      width: right - left,
      height: 2,
    })),
    ...drawn.moments.map((moment) => ({ x: x(moment.at) - 1, y: top, width: 2, height: bottom - top })),
    ...drawn.curves.flatMap((curve) => along(frame, curve)),
  ];
}

/** With room behind it, so that two names in a row are two. */
const sized = (text: string, bold = false) => ({
  width: textWidth(text, SIZE, bold) + 2 * GAP,
  height: HEIGHT,
});

function momentPlaces(frame: Frame, moment: Moment): Box[] {
  const size = sized(moment.name, true);
  const at = frame.x(moment.at);
  return range(frame.top + 2, frame.bottom - HEIGHT, HEIGHT).flatMap((y) => [
    { x: at + GAP, y, ...size },
    { x: at - GAP - size.width, y, ...size },
  ]);
}

function markPlaces(frame: Frame, mark: Mark): Box[] {
  const size = sized(mark.name);
  const at = frame.y(mark.at);
  return range(frame.right - 6 - size.width, frame.left + 6, -STEP).flatMap((x) => [
    { x, y: at - HEIGHT - 2, ...size },
    { x, y: at + 2, ...size },
  ]);
}

function curvePlaces(frame: Frame, course: CoursePoint[], name: string): Box[] {
  const size = sized(name);
  return course.slice(1).flatMap((point) => {
    const [x, y] = [frame.x(point.time), frame.y(point.mean)];
    return [
      { x: x + GAP, y: y - HEIGHT - GAP, ...size },
      { x: x - GAP - size.width, y: y + GAP, ...size },
    ];
  });
}

/** Every name with its place. */
export function namesOf(frame: Frame, drawn: Drawn): PlacedName[] {
  const { left, right, top, bottom } = frame;
  const inside = { x: left, y: top, width: right - left, height: bottom - top };
  const taken = obstacles(frame, drawn);
  const named: PlacedName[] = [];
  const add = (text: string, kind: PlacedName["kind"], places: Box[]) => {
    const box = settle(places, taken, inside);
    if (box) named.push({ text, kind, box });
  };
  for (const moment of drawn.moments) add(moment.name, "moment", momentPlaces(frame, moment));
  for (const mark of marksInside(frame, drawn.marks)) add(mark.name, mark.kind, markPlaces(frame, mark));
  if (drawn.beside)
    add(drawn.beside.name, "curve", curvePlaces(frame, drawn.beside.course, drawn.beside.name));
  return named;
}

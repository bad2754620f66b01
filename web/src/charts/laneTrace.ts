/** A lane's trace in pixels: hours on x, moisture ÷ trouble mark on y. */
import { scaleLinear, type ScaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import { waterColour } from "./waterColour";

/** A lane reaches from dry to so many trouble marks: a little over the mark, up to what it holds. */
const LEAST_REACH = 1.25;
const MOST_REACH = 4.5;
const MOST_STOPS = 48;

export interface TracePoint {
  /** ms since 1970 */
  at: number;
  /** moisture ÷ trouble mark; null where nothing is known */
  share: number | null;
}

export interface LaneFrame {
  width: number;
  height: number;
  x: ScaleLinear<number, number>;
  y: (share: number) => number;
}

/** The frame of a lane from one moment to another that holds the given shares. */
export function laneFrame(
  size: { width: number; height: number },
  [from, to]: [number, number],
  shares: readonly (number | null)[],
): LaneFrame {
  const highest = Math.max(0, ...shares.map((share) => share ?? 0));
  const reach = Math.min(Math.max(highest * 1.06, LEAST_REACH), MOST_REACH);
  const y = scaleLinear([0, reach], [size.height, 3]).clamp(true);
  return { ...size, x: scaleLinear([from, to], [0, size.width]), y: (share) => y(share) };
}

/** Points between two moments, ends included. */
export const between = (points: readonly TracePoint[], from: number, to: number): TracePoint[] =>
  points.filter((point) => point.at >= from && point.at <= to);

/** The filled shape under a trace, and its upper edge. */
export function shapes(frame: LaneFrame, points: readonly TracePoint[]): { fill: string; edge: string } {
  const { x, y, height } = frame;
  const known = (tracePoint: TracePoint): boolean => tracePoint.share !== null;
  const fill = area<TracePoint>()
    .defined(known)
    .x((tracePoint) => x(tracePoint.at))
    .y0(height)
    .y1((tracePoint) => y(tracePoint.share ?? 0));
  const edge = line<TracePoint>()
    .defined(known)
    .x((tracePoint) => x(tracePoint.at))
    .y((tracePoint) => y(tracePoint.share ?? 0));
  return { fill: fill([...points]) ?? "", edge: edge([...points]) ?? "" };
}

/** Colours along a trace, as shares of the lane's width. */
export function stops(frame: LaneFrame, points: readonly TracePoint[]): { at: number; colour: string }[] {
  const known = points.filter((point) => point.share !== null);
  const every = Math.max(1, Math.ceil(known.length / MOST_STOPS));
  return known
    .filter((_, index) => index % every === 0 || index === known.length - 1)
    .map((tracePoint) => ({
      at: frame.x(tracePoint.at) / frame.width,
      colour: waterColour(tracePoint.share ?? 0),
    }));
}

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

const LEAST_APART = 0.04; // of the width, for two names not to touch

/** Where the axis is marked: whole spans back from now and ahead of it. */
export function axisTicks(from: number, now: number, to: number): { at: number; name: string }[] {
  const back = now - from;
  const [step, unit, per] =
    back > 120 * DAY
      ? [56 * DAY, "wk", 7 * DAY]
      : back > 40 * DAY
        ? [14 * DAY, "wk", 7 * DAY]
        : back > 9 * DAY
          ? [7 * DAY, "wk", 7 * DAY]
          : back > 2 * DAY
            ? [DAY, "d", DAY]
            : [6 * HOUR, "h", HOUR];
  const found = [{ at: now, name: "now" }];
  for (let at = now - step; at >= from; at -= step)
    found.push({ at, name: `${Math.round((now - at) / per)} ${unit}` });
  const ahead = to - now > 2 * DAY ? Math.ceil((to - now) / 2 / DAY) * DAY : 3 * HOUR;
  // Beside so long a past, a few days ahead have no room for a name of their own.
  for (let at = now + ahead; at <= to && at - now > LEAST_APART * (to - from); at += ahead) {
    const name = ahead >= DAY ? `+${Math.round((at - now) / DAY)} d` : `+${Math.round((at - now) / HOUR)} h`;
    found.push({ at, name });
  }
  return found.sort((a, b) => a.at - b.at);
}

/** Where things are on the schedule's picture, in pixels. */
import { scaleTime } from "d3-scale";
import type { Schedule, ScheduledStart } from "../../api/client";
import { type Box, textWidth } from "../../charts/labels";
import { hours } from "../../domain/numbers";
import { bareTemp } from "../../domain/quantities";
import { when } from "../../domain/times";

const HOUR = 3_600_000;
const LEAST_AHEAD_H = 48;
export const NAMES_WIDTH = 172;
export const ROW = 46;
const BAND_PAD = 8;
export const TOP = 26;
const HANDS = 108;

export interface Row {
  start: ScheduledStart;
  row: number;
}

export interface Band {
  dryer: Schedule["dryers"][number];
  y: number;
  height: number;
  rows: Row[];
}

const ms = (text: string) => Date.parse(text);

/** Each start in the first row of its dryer that is free until it is taken out, and where its words have room. */
function rowsOf(starts: readonly ScheduledStart[], x: (at: number) => number, now: Date): Row[] {
  const free: number[] = [];
  return [...starts]
    .sort((a, b) => ms(a.starts_at) - ms(b.starts_at))
    .map((start) => {
      const from = x(ms(start.starts_at));
      const until = x(ms(start.taken_out_at ?? start.ends_at));
      const found = free.findIndex((end) => end <= from + 1);
      const row = found === -1 ? free.length : found;
      free[row] = Math.max(until, from + labelWidth(start, now));
      return { start, row };
    });
}

/** What stands beside a run's name. */
export const noteOf = (start: ScheduledStart, now: Date): string =>
  `${start.late_h > 0 ? `${hours(start.late_h)} late` : `${bareTemp(start.temp_c)}° · ready ${when(new Date(start.ends_at), now)}`}${start.pinned ? " · pinned" : ""}`;

/** How wide a run's name and note are, px. */
export const labelWidth = (start: ScheduledStart, now: Date): number =>
  textWidth(start.spool_name, 13, true) + textWidth(` ${noteOf(start, now)}`, 12) + 14;

/** The whole picture: bands from the top down, a line for the hands below them. */
export function sceneOf(data: Schedule, width: number) {
  const from = ms(data.start) - HOUR;
  const wanted = data.wishes.flatMap((wish) => (wish.due_at ? [ms(wish.due_at)] : []));
  const ends = data.starts.map((start) => ms(start.taken_out_at ?? start.ends_at));
  const to = Math.max(from + LEAST_AHEAD_H * HOUR, ...wanted, ...ends) + 5 * HOUR;
  const x = scaleTime([from, to], [NAMES_WIDTH, width]);
  let y = TOP;
  const used = data.dryers.filter((dryer) => data.starts.some((start) => start.dryer === dryer.id));
  const bands = (used.length > 0 ? used : data.dryers).map((dryer): Band => {
    const rows = rowsOf(
      data.starts.filter((start) => start.dryer === dryer.id),
      x,
      new Date(data.now),
    );
    const height = ROW * Math.max(1, ...rows.map(({ row }) => row + 1)) + BAND_PAD;
    const band = { dryer, y, height, rows };
    y += height + 6;
    return band;
  });
  return { from, to, x, bands, hands: y + 22, height: y + HANDS };
}

/** Where a visit's words may stand: under it to the right or left, in one of four rows, else a little further right. */
export const visitPlaces = (at: number, wide: number, hands: number): Box[] =>
  [0, 10, 20, 30, 40].flatMap((further) =>
    [14, 30, 46, 62].flatMap((down) =>
      [at - 6 + further, ...(further === 0 ? [at - wide + 6] : [])].map((x) => ({
        x,
        y: hands + down,
        width: wide,
        height: 15,
      })),
    ),
  );

export type Scene = ReturnType<typeof sceneOf>;

/** Midnights between two moments, by the person's own clock. */
export function midnights(from: number, to: number): Date[] {
  const day = new Date(from);
  day.setHours(24, 0, 0, 0);
  const found: Date[] = [];
  while (day.getTime() < to) {
    found.push(new Date(day));
    day.setDate(day.getDate() + 1);
  }
  return found;
}

/** The stretches between those in which somebody is at home. */
export function gaps(data: Schedule, from: number, to: number): [number, number][] {
  const found: [number, number][] = [];
  let at = from;
  for (const { since, until } of data.at_home) {
    if (ms(since) > at) found.push([at, Math.min(ms(since), to)]);
    at = Math.max(at, ms(until));
    if (at >= to) return found;
  }
  if (at < to) found.push([at, to]);
  return found;
}

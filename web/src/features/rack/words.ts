import type { Lane, Traced } from "../../api/client";
import { aboutHours, countWord, fixed, hours, percent } from "../../domain/numbers";
import { mass, temp } from "../../domain/quantities";
import { later, since, when } from "../../domain/times";
import { tempUnit, toTemp } from "../../domain/units";

const isReady = (lane: Lane) =>
  !lane.run && (lane.moisture_level === "clean" || lane.moisture_level === "no_matter");

/** The sentence that answers: which spools can I print, which need what? */
export function rackSentence(lanes: readonly Traced[]): string {
  const out = lanes.find(({ lane }) => lane.run?.timer?.out_since_h != null)?.lane.run;
  if (out)
    return `The timer of ${out.dryer_name} has run out: set it again for ${hours(out.timer?.set_h ?? 0)}.`;
  const ready = lanes.filter(({ lane }) => isReady(lane)).length;
  const first = `${countWord(ready)} ${ready === 1 ? "spool prints" : "spools print"} clean now.`;
  const wettest = lanes.find(({ lane, heat }) => lane.moisture_level === "trouble" && heat);
  if (!wettest?.heat) return first;
  const { lane, heat } = wettest;
  return heat.reaches
    ? `${first} ${lane.spool.name} needs ${hours(heat.duration_h)} first.`
    : `${first} ${heat.dryer_name} brings ${lane.spool.name} to about ${percent(heat.end_pct)} %.`;
}

/** "in 5 h", "in 3 d" */
const inTime = (within: number): string =>
  within < 48 ? aboutHours(Math.max(within, 0.2)).replace("about ", "") : `${Math.round(within / 24)} d`;

interface Told {
  act: string;
  why: string;
  strong: boolean;
}

/** What to do with a spool next, and why; `wanted`: when it is to be ready. */
export function nextActWords(traced: Traced, now: Date, wanted: Date | null): Told {
  const { lane, next } = traced;
  const place = lane.place?.name ?? "its place";
  const within = inTime(next.within_h ?? 0);
  switch (next.act) {
    case "no_matter":
      return { act: "Needs no drying", why: "takes up too little water", strong: false };
    case "drying":
      return drying(lane, now);
    case "ready":
      return { act: "Ready", why: "prints clean, and will for a week here", strong: false };
    case "outer_damp":
      return outerDamp(traced, within);
    case "put_away":
      return {
        act: `Put it away within ${within}`,
        why: `prints clean now; not for long at ${place}`,
        strong: true,
      };
    default:
      return toDry(traced, now, wanted, { place, within });
  }
}

/** Only its outer turns took up water: what lies under them is dry enough to even it out. */
function outerDamp({ lane, next }: Traced, within: string): Told {
  const damp = lane.next
    ? `only the next ${mass(lane.next.mass_g, 0)} are damp, ${percent(lane.next.pct)} %`
    : "only its outer turns are damp";
  return next.within_h === null
    ? { act: "Seal it", why: `${damp}; sealed, it evens out`, strong: true }
    : { act: `Wait ${within}`, why: `${damp}; it evens out here`, strong: false };
}

/** How it gets dry: by heat, or by itself where it is. */
function toDry(
  { next, heat, lane }: Traced,
  now: Date,
  wanted: Date | null,
  at: { place: string; within: string },
): Told {
  const dry = heat ? `Dry ${hours(heat.duration_h)} at ${temp(heat.temp_c)}` : "Dry it";
  const start = wanted && heat ? `, start by ${when(later(wanted, -heat.duration_h), now)}` : "";
  if (next.act === "dries_here") {
    const act = `Wait ${at.within}, or ${dry.toLowerCase()}`;
    return { act, why: `it is drying by itself in ${at.place}${start}`, strong: false };
  }
  return {
    act: dry,
    why: start && heat ? `in ${heat.dryer_name}${start}` : whyDry(next, heat, lane),
    strong: true,
  };
}

function whyDry(next: Traced["next"], heat: Traced["heat"], lane: Lane): string {
  if (!heat) return "none of your dryers suits it";
  if (!heat.reaches) {
    const end = percent(heat.end_pct);
    return `${heat.dryer_name} brings it to about ${end} %; clean is ${percent(lane.clean_pct ?? 0)} %`;
  }
  const wet = next.over_trouble ? ", or it shows in prints" : ", or print a draft now";
  return `in ${heat.dryer_name}${wet}`;
}

function drying(lane: Lane, now: Date): Told {
  if (!lane.run) return { act: "Drying", why: "", strong: false };
  const started = new Date(lane.run.started_at);
  const ranOut = lane.run.timer?.out_since_h ?? null;
  if (ranOut !== null)
    return {
      act: `Set the timer again: ${hours(lane.run.timer?.set_h ?? 0)}`,
      why: `${lane.run.dryer_name} has been off since ${when(later(started, ranOut), now)}`,
      strong: true,
    };
  const end = later(started, lane.run.end_h);
  const over = end < now;
  return {
    act: over ? "Weigh it now" : `Drying until ${when(end, now)}`,
    why: `in ${lane.run.dryer_name} at ${temp(lane.run.temp_c)}`,
    strong: over,
  };
}

/** "Shelf, 10 d" */
export function whereabouts(lane: Lane, now: Date): string {
  if (lane.run) return lane.run.dryer_name;
  if (!lane.place || !lane.since) return "place unknown";
  return `${lane.place.name}, ${since(new Date(lane.since), now)}`;
}

/** The room's dew point now and where it goes, by the last day. */
export function dewWords(dew: readonly number[], nowAt: number, stepH: number): string {
  const here = dew[nowAt] ?? 0;
  const before = dew[Math.max(nowAt - Math.round(24 / stepH), 0)] ?? here;
  const trend = here - before > 0.7 ? ", rising" : before - here > 0.7 ? ", falling" : "";
  return `Dew point ${fixed(toTemp(here), 1)} ${tempUnit()}${trend}`;
}

export type Order = "wettest" | "name" | "place" | "next";

const ACTS = ["dry", "put_away", "outer_damp", "dries_here", "drying", "ready", "no_matter"];

/** Lanes in the order that the person wants; they come wettest first. */
export function inOrder(lanes: readonly Traced[], order: Order): Traced[] {
  const by = (key: (traced: Traced) => string | number) =>
    [...lanes].sort((a, b) => (key(a) < key(b) ? -1 : key(a) > key(b) ? 1 : 0));
  switch (order) {
    case "wettest":
      return [...lanes];
    case "name":
      return by((traced) => traced.lane.spool.name.toLowerCase());
    case "place":
      return by((traced) =>
        `${traced.lane.run?.dryer_name ?? traced.lane.place?.name ?? ""} ${traced.lane.spool.name}`.toLowerCase(),
      );
    case "next":
      return by((traced) => ACTS.indexOf(traced.next.act));
  }
}

/** Whether a lane answers to what was typed: every word, in name, material, colour, maker or place. */
export function answersTo({ lane }: Traced, wanted: string): boolean {
  const text = [
    lane.spool.name,
    lane.material_short,
    lane.spool.colour,
    lane.spool.maker,
    lane.place?.name ?? "",
    lane.run?.dryer_name ?? "",
  ]
    .join(" ")
    .toLowerCase();
  return wanted
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

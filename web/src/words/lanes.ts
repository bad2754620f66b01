import type { Lane } from "../api/client";
import { countWord, hours } from "../format/numbers";
import { temp } from "../format/quantities";
import { later, since, when } from "../format/times";

const isReady = (lane: Lane) => !lane.run && (lane.standing === "clean" || lane.standing === "no_matter");

/** The sentence that answers: which spools can I print, which need what? */
export function rackSentence(lanes: Lane[]): string {
  const ready = lanes.filter(isReady).length;
  const first = `${countWord(ready)} ${ready === 1 ? "spool prints" : "spools print"} clean now.`;
  const wettest = lanes.find((lane) => !lane.run && lane.standing === "trouble" && lane.usual);
  if (!wettest?.usual) return first;
  return `${first} ${wettest.spool.name} needs ${hours(wettest.usual.duration_h)} first.`;
}

/** What to do with a spool next, and why. */
export function nextAct(lane: Lane, now: Date): { act: string; why: string; strong: boolean } {
  if (lane.run) {
    const end = later(new Date(lane.run.started_at), lane.run.duration_h);
    const over = end < now;
    return {
      act: over ? "Weigh it out" : `Drying until ${when(end, now)}`,
      why: `in ${lane.run.dryer_name} at ${temp(lane.run.temp_c)}`,
      strong: over,
    };
  }
  const { usual } = lane;
  if (lane.standing === "clean") return { act: "Ready", why: "under its clean mark", strong: false };
  if (!usual) return { act: "Needs no drying", why: "takes up too little water", strong: false };
  const dry = `Dry ${hours(usual.duration_h)} at ${temp(usual.temp_c)}`;
  return lane.standing === "trouble"
    ? { act: dry, why: "over its trouble mark", strong: true }
    : { act: `${dry}, or print a draft`, why: "over its clean mark", strong: true };
}

/** "Shelf, 10 d" */
export function whereabouts(lane: Lane, now: Date): string {
  if (lane.run) return lane.run.dryer_name;
  if (!lane.place || !lane.since) return "place not known";
  return `${lane.place.name}, ${since(new Date(lane.since), now)}`;
}

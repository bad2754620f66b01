import type { Schedule, ScheduledStart } from "../../api/client";
import type { components } from "../../api/schema";
import { countWord, fixed, hours, inCount } from "../../domain/numbers";
import { listed, sentence } from "../../domain/text";
import { temp } from "../../domain/quantities";
import { clock, when } from "../../domain/times";

type Sum = components["schemas"]["Sum"];
type Late = Schedule["late"][number];
type Visit = Schedule["visits"][number];
type WhatIf = Schedule["what_ifs"][number];
type CameTo = components["schemas"]["CameTo"];
type Compared = components["schemas"]["Compared"];

const visitsWords = (count: number) => `${inCount(count)} ${count === 1 ? "visit" : "visits"}`;

/** The sentence that the page opens with. */
export function scheduleSentence(data: Schedule, now: Date): string {
  if (data.wishes.length === 0) return "Say which spools you want dry, and by when.";
  const planned = data.starts.filter((start) => start.wish !== null);
  if (planned.length === 0 && data.ready.length === data.wishes.length)
    return data.ready.length === 1 ? "It is dry already." : "All that is wanted is dry already.";
  if (!data.worked_out) return "Something changed: the last schedule no longer holds.";
  return plannedSentence(planned, visitsWords(data.sum?.visits ?? 0), now);
}

function plannedSentence(planned: readonly ScheduledStart[], visits: string, now: Date): string {
  const inTime = planned.filter((start) => start.late_h === 0).length;
  const [only] = planned.length === 1 ? planned : [];
  if (inTime === planned.length) {
    const all = only ? `${only.spool_name} is` : `All ${inCount(planned.length)} are`;
    const last = planned.reduce((at, start) => Math.max(at, Date.parse(start.ends_at)), 0);
    return `${all} ready by ${when(new Date(last), now)}, with ${visits}.`;
  }
  if (inTime === 0) return `${only ? only.spool_name : "All"} will be late, with ${visits}.`;
  const are = inTime === 1 ? "is" : "are";
  return `${countWord(inTime)} of ${inCount(planned.length)} ${are} ready in time, with ${visits}.`;
}

/** Why something is late, and when it could be had. */
export function lateSentence(late: Late, now: Date): string {
  const by = `${late.spool_name} comes ${hours(late.late_h)} late`;
  const soonest = late.soonest === null ? "" : when(new Date(late.soonest), now);
  const others = listed(late.others.slice(0, 2));
  const later = isLaterThanItMust(late) ? ", and it waits longer so that others are in time" : "";
  if (late.why === "too_long")
    return `${by}: it takes ${hours(late.hours)}, so ${soonest} is the soonest that it can be had${later}.`;
  if (late.why === "nobody_home")
    return `${by}: nobody is at home at the hours that it would need. With these hours, ${soonest} is the soonest${later}.`;
  return `${by}: ${late.dryer_name} is taken${others ? ` by ${others}` : ""}. On its own it could be ready ${soonest}.`;
}

const QUARTER_MS = 900_000;

/** Whether it is made to come later than it could by itself. */
function isLaterThanItMust({ ready_by, soonest, late_h }: Late): boolean {
  if (ready_by === null || soonest === null) return false;
  return Date.parse(ready_by) + late_h * 3_600_000 > Date.parse(soonest) + QUARTER_MS;
}

/** What is done at a visit. */
export function visitWords({ load, take_out, timers }: Visit): string {
  const parts = [
    ...(take_out.length > 0 ? [`take out ${listed(take_out)}`] : []),
    ...(load.length > 0 ? [`load ${listed(load)}`] : []),
    ...(timers.length > 0 ? [`set the timer of ${listed(timers)}`] : []),
  ];
  return sentence(parts.join("; "));
}

/** Where a spool goes, what to set there, and for how long. */
export function loadWords(start: ScheduledStart, data: Schedule): string {
  const dryer = data.dryers.find((one) => one.id === start.dryer);
  const set = start.set_c === null ? start.set_level : temp(start.set_c);
  const of = dryer?.kind === "bed" ? "bed at " : "set to ";
  return `${start.spool_name}: ${dryer?.name ?? ""}, ${of}${set}, ${hours(start.hours)}`;
}

/** The same in few words, for the line of visits. */
export function visitInShort({ load, take_out, timers }: Visit): string {
  return [
    ...(take_out.length > 0 ? [`out ${take_out.length}`] : []),
    ...(load.length > 0 ? [`in ${load.length}`] : []),
    ...(timers.length > 0 ? ["timer"] : []),
  ].join(", ");
}

/** What decides when and where this run is. */
export function decidesWords(start: ScheduledStart, late: readonly Late[]): string {
  if (start.run !== null) return "is drying now";
  const why = late.find((one) => one.spool_name === start.spool_name);
  if (why?.why === "too_long") return `it takes ${hours(why.hours)}`;
  if (why?.why === "taken") return `${why.dryer_name} is taken before`;
  if (why) return "nobody is at home sooner";
  if (start.pinned) return "pinned there";
  if (!start.reaches) return "no dryer gets it all the way";
  if (start.beside.length > 0) return `goes along with ${listed(start.beside)}`;
  if (start.watched_h > 0) return `somebody is there for the first ${hours(start.watched_h)}`;
  return "";
}

/** What a change is called. */
export function whatIfName(change: WhatIf, data: Schedule, now: Date): string {
  if (change.kind === "another")
    return `A second ${data.dryers.find((dryer) => dryer.id === change.dryer)?.name ?? "dryer"}`;
  if (change.kind === "home" && change.day !== null)
    return `At home all ${when(new Date(change.day), now).split(" ")[0] ?? "day"}`;
  return change.kind === "coils" ? "Coils in place of spools" : "The late ones a day later";
}

/** When somebody has to be there for a change to help. */
export function homeWords(home: Compared["home"], now: Date): string {
  const spans = home.map(({ since, until }) => {
    const [from, to] = [new Date(since), new Date(until)];
    return to.getTime() - from.getTime() < 20 * 60_000
      ? `at ${when(from, now)}`
      : `from ${when(from, now)} to ${clock(to)}`;
  });
  return spans.length === 0 ? "" : ` · be there ${listed(spans)}`;
}

/** What a change comes to. */
export function whatIfWords(as: CameTo, changed: CameTo, currency: string): string {
  const late =
    changed.jobs_late === 0 ? "all in time" : `${changed.jobs_late} late, by ${hours(changed.hours_late)}`;
  const more = changed.visits - as.visits;
  const visits =
    more === 0
      ? "as many visits"
      : `${inCount(Math.abs(more))} ${Math.abs(more) === 1 ? "visit" : "visits"} ${more > 0 ? "more" : "fewer"}`;
  const cost = changed.cost - as.cost;
  const money =
    currency === "" || Math.abs(cost) < 0.005
      ? ""
      : ` · ${currency}${fixed(Math.abs(cost), 2)} ${cost > 0 ? "more" : "less"}`;
  return `${late} · ${visits}${money}`;
}

/** How far from the best an answer can be. */
export function bestWords(sum: Sum): string {
  if (sum.jobs_late === 0) return "Nothing is late.";
  if (sum.jobs_late === sum.least_jobs_late && sum.hours_late <= sum.least_hours_late + 0.01)
    return "No schedule does better on time within these hours.";
  return `At best ${sum.least_jobs_late} late, by ${hours(sum.least_hours_late)}.`;
}

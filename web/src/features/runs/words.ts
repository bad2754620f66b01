import type { RunEvent, RunSheet, Verdict } from "../../api/client";
import { mass, massPlusMinus } from "../../domain/quantities";
import { aboutHours, fixed, hours, percent, plusMinus, scaleDecimals, span } from "../../domain/numbers";
import { later, when } from "../../domain/times";
import { DESICCANT_WORDS } from "../storage/words";

type Told = Pick<RunSheet, "verdict" | "run"> & Partial<Pick<RunSheet, "now_h" | "end_h">>;

const stillIn = (verdict: Verdict) => `${span(verdict.moisture.p05, verdict.moisture.p95)} % is left`;

/** Until two weighings can be compared, the forecast says how it stands. */
function unjudgedSentence(verdict: Verdict, ended: boolean, left: number): string {
  const forecast = `by the forecast ${stillIn(verdict)}`;
  const weighedIn = verdict.state !== "no_weigh_in";
  if (ended) return `Ended without a ${weighedIn ? "last " : ""}weighing: ${forecast}.`;
  if (left <= 0) return `The planned time is over: ${forecast}. Weigh it now.`;
  return weighedIn
    ? `Weighed in; ${aboutHours(left)} of the planned time left.`
    : `Not weighed yet: ${forecast}. Weigh it now, and the scale can follow it.`;
}

const FINER_WORTH = 1.2;

const noFinding = (verdict: Verdict): string =>
  verdict.spool_water_g.value > 0
    ? "No finding: the card spool’s own water could explain the change."
    : `Your scale can’t tell: the change is below what it can show.${finer(verdict)}`;

const finer = ({ finer_by }: Verdict): string =>
  finer_by > FINER_WORTH
    ? ` A scale about ${Math.ceil(finer_by)} times finer could tell, or a coil on a finer scale.`
    : "";

/** What is left to wait for, and when a weigh-in tells most. */
function keepGoing({ verdict, run }: Told): string {
  const { p50 } = verdict.to_aim;
  if (p50 === null)
    return `Keep going, but this air stops it near ${percent(verdict.floor_pct)} %, short of clean.`;
  const left = p50 < 0.1 ? "Perhaps there already" : `Keep going: ${aboutHours(p50)} left`;
  if (verdict.next_weigh_h === null) return `${left}.`;
  const at = when(later(new Date(run.started_at), verdict.next_weigh_h), new Date());
  return `${left}. Weigh at ${at} to narrow it.`;
}

/** "prints clean near 02:00 (9 in 10: 00:40 to 05:10)", or "from 13:50 at the earliest" where the hours are a lower
 * bound and no scale has told more yet; nothing where there is nothing to wait for. */
export function stopLine({ verdict, run, now_h, is_bound }: RunSheet): string | null {
  const { p05, p50, p95 } = verdict.to_aim;
  if (run.ended_at !== null || p50 === null || p50 < 0.1) return null;
  const at = (left: number) => when(later(new Date(run.started_at), now_h + left), new Date());
  if (is_bound && !verdict.loss) return `prints clean from ${at(p50)} at the earliest`;
  const late = p95 === null ? "perhaps never" : at(p95);
  return `prints clean near ${at(p50)} (9 in 10: ${p05 === 0 ? "now" : at(p05 ?? 0)} to ${late})`;
}

const SOON_H = 0.25; // a run is weighed in when it starts, or soon after

/** How much water has left by the scale, and since when: a run need not have been weighed at its start. */
export function outSince({ seen, verdict, run }: RunSheet, digits: number): [string, string] {
  const first = seen.find((point) => !point.doubtful);
  const start = new Date(run.started_at);
  const at = first ? new Date(first.at) : start;
  const name = `Out since ${at > later(start, SOON_H) ? when(at, new Date()) : "start"}`;
  const { loss } = verdict;
  if (loss) return [name, massPlusMinus(loss.mass_g.value, loss.mass_g.plus_minus, digits)];
  const ended = run.ended_at !== null;
  if (first) return [name, ended ? "weighed once only" : "weigh again to see"];
  return [name, ended ? "never weighed" : "not weighed yet"];
}

/** The plain constant-mass rule, for those who trust the scale alone. */
export function constantMassWords({ verdict, run }: RunSheet, digits: number): string {
  const { constant_mass } = verdict;
  if (!constant_mass) return run.ended_at ? "no two weighings an hour apart" : "weigh twice, an hour apart";
  const { steady, change_g, hours: apart } = constant_mass;
  return steady
    ? `steady over ${hours(apart)}`
    : `${massPlusMinus(change_g.value, change_g.plus_minus, digits)} in ${Number(apart.toFixed(1))} h`;
}

export const EVENT_WORDS: Record<RunEvent["kind"], string> = {
  lid: "lid opened",
  turned: "turned over",
  timer: "timer set again",
  desiccant: "desiccant changed",
  sensor: "sensor moved",
  paused: "paused",
  resumed: "resumed",
  power_cut: "power cut",
  changed: "plan changed",
  other: "note",
};

/** What a run drew and costs so far. */
export function spentWords({ energy_kwh, amount, currency }: RunSheet["spent"]): string {
  const used = `${plusMinus(energy_kwh.value, energy_kwh.plus_minus, 2)} kWh`;
  return amount === null ? used : `${used}, ${currency}${fixed(amount, 2)}`;
}

/** What is in the dryer: "Rain gauge", or "coil 2 of Rain gauge". */
export const subjectOf = ({ coil, spool }: { coil: string | null; spool: { name: string } }): string =>
  coil === null ? spool.name : `${coil} of ${spool.name}`;

function ranOutSentence({ timer, started_at }: Told["run"]): string | null {
  if (timer?.out_since_h == null) return null;
  const since = when(later(new Date(started_at), timer.out_since_h), new Date());
  return `The timer ran out at ${since}: set it again for ${hours(timer.set_h)}.`;
}

/** The sentence that answers: is it done? */
export const runSentence = (told: Told): string => ranOutSentence(told.run) ?? judgedSentence(told);

/** States in which the weighings say nothing of the moisture: what to do instead. */
const UNTOLD: Partial<Record<Verdict["state"], string>> = {
  gained: "It gained mass: it took up water, or something extra was on the scale.",
  between_turns:
    "Water between the turns is leaving: more came off than the filament can hold. Weigh again in a few hours; from then on the scale tells of the plastic.",
  not_water:
    "It lost more than this filament can hold as water. Either it lay in water, or something was taken off the scale.",
  no_fit: "These weighings do not fit together. Check what was on the scale each time.",
};

function judgedSentence(told: Told): string {
  const { verdict, run, now_h, end_h } = told;
  const ended = run.ended_at !== null;
  const aim = `${percent(run.aim_pct)} %`;
  const untold = UNTOLD[verdict.state];
  if (untold) return untold;
  switch (verdict.state) {
    case "no_weigh_in":
    case "no_weigh_out":
      return unjudgedSentence(verdict, ended, (end_h ?? run.duration_h) - (now_h ?? 0));
    case "no_finding":
      return noFinding(verdict);
    case "flat":
      return `As dry as this air makes it, if the heat was on: a wet spool would have lost ${mass(verdict.wet_loss_g, 1)} or more by now.`;
    case "dry":
      return verdict.lost_less
        ? `Dry, if the heat was on all along: it lost less than expected. ${ended ? "Was the dryer hot to the end?" : "Is the dryer still hot?"}`
        : `Dry: at or below ${aim}, so it prints clean.`;
    case "stalled":
      return `Stalled near ${percent(verdict.floor_pct)} %: this air can’t dry it further. Hotter or drier air would help; more hours would not.`;
    case "going":
      return ended ? `Not dry yet: ${stillIn(verdict)}; it prints clean at ${aim}.` : keepGoing(told);
    default:
      return STATE_WORDS[verdict.state];
  }
}

/** "17.5 ± 0.2 g out, 2.22 ± 0.03 % of the dry filament", with no more digits than the scale gives. */
export function lossLine(verdict: Verdict, resolution: number): string | null {
  const { loss } = verdict;
  if (!loss) return null;
  const digits = scaleDecimals(resolution);
  const out = massPlusMinus(loss.mass_g.value, loss.mass_g.plus_minus, digits);
  const card = loss.filament_g.value !== loss.mass_g.value;
  const share = plusMinus(loss.dry_basis_pct.value, loss.dry_basis_pct.plus_minus, 2);
  return card
    ? `${out} lost, some of it the card’s own: ${massPlusMinus(verdict.spool_water_g.value, verdict.spool_water_g.plus_minus, 0)}`
    : `${out} lost, ${share} % of the dry filament`;
}

/** A word for a run's state, for lists. */
export const STATE_WORDS: Record<Verdict["state"], string> = {
  no_weigh_in: "not weighed",
  no_weigh_out: "no last weighing",
  no_finding: "no finding",
  flat: "as dry as this air makes it",
  gained: "gained mass",
  between_turns: "water between the turns",
  not_water: "not only water",
  no_fit: "does not fit",
  dry: "dry",
  stalled: "stalled",
  going: "not dry yet",
};

/** What the desiccant in the box holds by now; null where there is none. */
export function desiccantWords({ desiccant, run }: RunSheet): string | null {
  if (!desiccant) return null;
  const { kind, dry_g, now_pct, takes_g, changed } = desiccant;
  const over = run.ended_at !== null;
  const holds = `${mass(dry_g, 0)} of ${DESICCANT_WORDS[kind]} in the box ${over ? "held" : "hold"} ${fixed(now_pct, 1)} % water ${over ? "at the end" : "by now"}`;
  if (changed) return `${holds}, fresh since it was changed.`;
  return `${holds}: ${mass(Math.abs(takes_g), 1)} ${takes_g < 0 ? "given off" : "taken up"} in this run.`;
}

/** Whether one could print straight out of the dryer now; null where nothing runs. */
export function nextGramsWords({ next_grams, clean_pct }: RunSheet): string | null {
  if (!next_grams) return null;
  const held = `The next ${mass(next_grams.mass_g, 0)} off the spool hold ${span(next_grams.p05, next_grams.p95)} %`;
  if (clean_pct === null) return `${held}.`;
  if (next_grams.p95 <= clean_pct) return `${held}: you can print from the box now.`;
  if (next_grams.p05 > clean_pct) return `${held}: too much to print from the box yet.`;
  return `${held}: perhaps dry enough to print from the box.`;
}

import type { Alternative, Limit, Plan, Ring, Scale, Ticket } from "../../api/client";
import type { Method } from "./queries";
import { aboutHours, chance, fixed, hours, percent } from "../../domain/numbers";
import { listed } from "../../domain/text";
import { inWords, length, mass, size, temp, tempStep } from "../../domain/quantities";
import { later, when } from "../../domain/times";
import { DESICCANT_WORDS } from "../storage/words";

/** The name of the spool at a place among those that go in; only needed where there are several. */
export const nameAt = (plan: Plan, spool: number | null): string =>
  plan.lanes[spool ?? 0]?.spool.name ?? "the spool";

const possessive = (plan: Plan, spool: number | null): string =>
  plan.lanes.length > 1 && spool !== null ? `${nameAt(plan, spool)}’s ` : "the ";

/** What stands in the way of a hotter run. */
export function limitReason(limit: Limit, plan: Plan): string {
  const at = temp(limit.temp_c);
  const hot = limit.hot_side_c > 0 ? `, because hotter spots reach ${tempStep(limit.hot_side_c)} more` : "";
  const whose = possessive(plan, limit.spool);
  switch (limit.kind) {
    case "filament_soft":
      return `${whose}filament softens above ${at} in this dryer${hot}`;
    case "filament_fuse":
      return `${whose}turns stick together at ${at}`;
    case "spool_sag":
      return `${whose}empty spool sags above ${at}`;
    case "dryer_max":
      return `${plan.dryer.name} gets no hotter than ${at}`;
    case "dryer_min":
      return `${plan.dryer.name} goes no lower than ${at}`;
  }
}

/** A limit as a name on the map. */
export function zoneName(limit: Limit, names: string[], dryer: string): string {
  const whose = names.length > 1 && limit.spool !== null ? `${names[limit.spool] ?? ""}: ` : "";
  switch (limit.kind) {
    case "filament_soft":
      return limit.hot_side_c > 0
        ? `${whose}hotter spots soften the filament`
        : `${whose}softens the filament`;
    case "filament_fuse":
      return `${whose}turns stick together`;
    case "spool_sag":
      return `${whose}empty spool sags`;
    case "dryer_max":
      return `${dryer} gets no hotter`;
    case "dryer_min":
      return `${dryer} goes no lower`;
  }
}

/** What to set: "68 °C", "high", or the bed's temperature. */
export function settingWords(ticket: Ticket, kind: Plan["dryer"]["kind"]): string {
  const { set_c, level } = ticket.setting;
  if (set_c === null) return level;
  return kind === "bed" ? `bed ${temp(set_c)}` : temp(set_c);
}

function instruction(plan: Plan, ticket: Ticket): string {
  const set = settingWords(ticket, plan.dryer.kind).replace("bed ", "");
  const what = plan.dryer.kind === "bed" ? `Set the bed of ${plan.dryer.name}` : `Set ${plan.dryer.name}`;
  return `${what} to ${set} for ${hours(ticket.duration_h)}.`;
}

function notNeeded(plan: Plan, ticket: Ticket): string {
  if (plan.lanes.length > 1) return "All of them print clean already: no need to dry them.";
  const [lead] = plan.lanes;
  const wets = (ticket.members[0]?.end_pct ?? 0) > (lead?.moisture.value ?? 0);
  return `${nameAt(plan, 0)} prints clean already${wets ? ", and this run would wet it." : ": no need to dry it."}`;
}

/** The one that ends furthest over its aim, by its name and numbers. */
function worst(plan: Plan, ticket: Ticket): { name: string; end: string; aim: string } {
  const [member] = [...ticket.members].sort((a, b) => b.end_pct / b.aim_pct - a.end_pct / a.aim_pct);
  return {
    name: nameAt(plan, member ? ticket.members.indexOf(member) : 0),
    end: percent(member?.end_pct ?? 0),
    aim: percent(member?.aim_pct ?? 0),
  };
}

/** What the box does reach, said first: "Cellar box brings Hinge stock from 3.1 to about 0.4 % in 24 h". */
function broughtTo(plan: Plan, ticket: Ticket): string {
  const { name, end } = worst(plan, ticket);
  const lane = plan.lanes.find(({ spool }) => spool.name === name);
  const from = lane ? ` from ${percent(lane.moisture.value)}` : "";
  return `${plan.dryer.name} brings ${name}${from} to about ${end} % in ${hours(ticket.duration_h)}`;
}

function outcomeSentence(plan: Plan, ticket: Ticket): string {
  const { name, end, aim } = worst(plan, ticket);
  switch (plan.outcome) {
    case "not_needed":
      return notNeeded(plan, ticket);
    case "cannot":
      return `${broughtTo(plan, ticket)}; for ${aim} % see what could do it.`;
    case "not_by_then":
      return `Not by then. At the earliest: ${instruction(plan, ticket).replace(/^Set/, "set")}`;
    case "ends_above":
      return `${instruction(plan, ticket)} It brings ${name} to about ${end} %; the aim is ${aim} %.`;
    default:
      return instruction(plan, ticket);
  }
}

/** The sentence that answers: what do I set, for how long? */
export function planSentence(plan: Plan): string {
  const { ticket } = plan;
  if (!ticket) return inWords(plan.why_not);
  const fatal = plan.broken.find((limit) => !limit.overridable);
  if (fatal) return `Not at ${temp(ticket.air_c)}: ${limitReason(fatal, plan)}.`;
  // Harm comes before what the dryer just does not reach.
  const past = plan.broken.find((limit) => limit.spool !== null) ?? plan.broken[0];
  if (past) return `${temp(ticket.air_c)} is past a limit: ${limitReason(past, plan)}.`;
  return outcomeSentence(plan, ticket);
}

interface WayWords {
  name: string;
  reason: string;
}

/** Ways to choose a run by, each with its reason in a line. */
export const METHODS: Record<Method, WayWords> = {
  gentle: { name: "gentle", reason: "cool and slow: nothing anneals, curls or sags" },
  usual: { name: "usual", reason: "what most people set: warm, below the glass transition if possible" },
  brisk: { name: "brisk", reason: "hot and short, for when you stay and watch" },
  sheet: { name: "maker’s sheet", reason: "what this spool’s data sheet asks for" },
  own: { name: "my programme", reason: "what has worked for you with this material" },
  least_heat: {
    name: "least heat",
    reason: "the coolest run that gets there within a day, or within the gentle hours",
  },
  least_time: { name: "least time", reason: "the hottest run that harms nothing" },
  least_energy: { name: "least energy", reason: "the fewest kilowatt-hours until it prints clean" },
  ready_by: { name: "ready by …", reason: "the coolest run that is done when you need it" },
};

/** The risk of a run, in a line; empty where there is none. */
export function riskWords(risk: Ring["risk"], end: number, limit: string | null): string {
  switch (risk) {
    case "limit":
      return limit ? `Past a limit: ${limit}.` : "Past a limit.";
    case "floor":
      return "This air stops it short of clean, however long it runs.";
    case "ends_above":
      return `Ends near ${percent(end)} %: not clean.`;
    case "above_tg":
      return "Above the glass transition: the filament may anneal or keep its curl. Not for parts under load.";
    case "long":
      return "Runs overnight, unwatched.";
    case "none":
      return "";
  }
}

/** An alternative that would work where this dryer cannot. */
export function alternativeWords(
  alternative: Alternative,
  plan: Plan,
  dryerName: (id: number) => string,
): [string, string] {
  const run = `${temp(alternative.air_c)} for ${hours(alternative.duration_h)}`;
  const room = alternative.dew_point_c === null ? "" : temp(alternative.dew_point_c);
  switch (alternative.kind) {
    case "other_dryer":
      return [dryerName(alternative.dryer ?? 0), run];
    case "desiccant":
      return alternative.desiccant === null
        ? ["Fresh desiccant in the intake", `air dried to 10 %, ${run}`]
        : [
            `${mass(alternative.desiccant_g ?? 0, 0)} of fresh ${DESICCANT_WORDS[alternative.desiccant]} in the box`,
            run,
          ];
    case "drier_night":
      return [`A drier night, with a dew point below ${room}`, run];
    case "loose_coil":
      return ["As a loose coil, off the spool", run];
    case "longer":
      return ["Much longer", run];
    case "alone":
      return [`${nameAt(plan, 0)} alone`, run];
  }
}

const MEASURES: Record<Plan["misfits"][number]["measure"], string> = {
  max_diameter_mm: "across",
  max_width_mm: "wide",
  slots: "spools",
};

/** Why a spool does not fit. */
export function misfitWords(misfit: Plan["misfits"][number], plan: Plan): string {
  const { name } = plan.dryer;
  if (misfit.measure === "slots") {
    return `${misfit.has} spools do not fit: ${name} holds ${misfit.takes === 1 ? "one" : String(misfit.takes)}.`;
  }
  return `Does not fit: ${nameAt(plan, misfit.spool)} is ${size(misfit.has)} ${MEASURES[misfit.measure]}, ${name} takes ${size(misfit.takes)}.`;
}

/** "Tue 05:00", and how sure that is, for when a spool comes to its aim. */
export function readyWords(
  member: Ticket["members"][number],
  start: Date,
  ticket?: Ticket,
): { at: string; band: string } {
  const { ready_h, ready_early_h, ready_late_h, chance_ever } = member;
  if (ready_h === 0) return { at: "already", band: "" };
  const clockAt = (time: number) => when(later(start, time), start);
  const early = ready_early_h === null ? "any time" : clockAt(ready_early_h);
  const band =
    ready_late_h === null
      ? `at the earliest ${early}; never in this air: ${chance(1 - chance_ever)}`
      : `between ${early} and ${clockAt(ready_late_h)}: 9 in 10`;
  const sure = `Clean at the end of this run: ${chance(member.chance_at_end)}; ${band}`;
  const isBound = ticket?.cautions.some((caution) => caution.kind === "lower_bound") ?? false;
  return {
    at: ready_h === null ? "not in this run" : `${clockAt(ready_h)}${isBound ? " at the earliest" : ""}`,
    band: isBound ? "" : sure,
  };
}

/** What the turns printed next and those at the hub then hold, row by row; none where all are about even. */
export function turnsRows({ turns }: Ticket["members"][number]): [string, string][] {
  if (turns === null) return [];
  return [
    [`Next ${mass(turns.mass_g, 0)} then`, `${percent(turns.next_pct)} %`],
    ["At the hub then", `${percent(turns.hub_pct)} %`],
  ];
}

/** "0.44 ± 0.09 kWh", and what it costs. */
export function energyWords(ticket: Ticket): string {
  const { value, plus_minus } = ticket.energy_kwh;
  const places = value < 1 ? 2 : 1;
  return `${fixed(value, places)} ± ${fixed(plus_minus, places)} kWh`;
}

/** What the run costs, and what waiting would save. */
export function billWords(bill: NonNullable<Plan["bill"]>, now: Date): { cost: string; wait: string } {
  const money = (amount: number) => `${bill.currency}${fixed(amount, 2)}`;
  const saves = bill.wait_h > 0 && bill.amount - bill.wait_amount >= 0.005;
  return {
    cost: money(bill.amount),
    wait: saves ? `From ${when(later(now, bill.wait_h), now)} it would cost ${money(bill.wait_amount)}.` : "",
  };
}

/**
 * Timer turns: "8 h, then 1 h 30 min"; "7 times 4 h, then 1 h 42 min" where there are many. A last turn that is longer than
 * the run is switched off by hand.
 */
export function turnWords({ turns }: Ticket): string {
  const last = turns.at(-1);
  if (!last) return "";
  const byHand = last.set_h > last.runs_h + 0.01 ? ` (switch off by hand after ${hours(last.runs_h)})` : "";
  const before = turns.slice(0, -1).map((turn) => hours(turn.set_h));
  const [first] = before;
  const many = before.length > 2 && before.every((words) => words === first);
  return [...(many ? [`${before.length} times ${first ?? ""}`] : before), hours(last.set_h) + byHand].join(
    ", then ",
  );
}

/** When to set the timer again: "22:30, Fri 07:00 and 3 times more". */
export function setAgainWords({ turns }: Ticket, now: Date): string {
  const times = turns.slice(1).map((turn) => when(later(now, turn.at_h), now));
  return times.length > 3
    ? `${times.slice(0, 2).join(", ")} and ${times.length - 2} times more`
    : times.join(", ");
}

/** "Your scale will not be able to tell: about 1.1 g will leave, and Kitchen scale shows 1.6 g and more." */
export function scaleCheckWords(check: Plan["scale_check"], scales: readonly Scale[]): string | null {
  if (!check || check.tells) return null;
  const name = (id: number) => scales.find((scale) => scale.id === id)?.name ?? "the scale";
  const out = check.water_out_g < 0.05 ? "hardly anything" : `about ${mass(check.water_out_g, 1)}`;
  const says = `Your scale will not be able to tell: ${out} will leave, and ${name(check.scale)} shows ${mass(check.detectable_g, 1)} and more.`;
  const ways = [
    check.coil &&
      `a coil of ${length(check.coil.length_m)} dried with it and weighed on ${name(check.coil.scale)}`,
    check.longer_h !== null && `${hours(check.longer_h)} of heat`,
  ].filter((way) => typeof way === "string");
  return ways.length > 0 ? `${says} What would tell: ${ways.join(", or ")}.` : `${says} A finer scale would.`;
}

/** What a coil of it, baked dry first, would tell of the hour. */
export function twinWords(twin: NonNullable<Plan["twin"]>): string {
  const between = (low: number, high: number) =>
    [low, high].map((time) => aboutHours(time).replace("about ", "")).join(" and ");
  return `Not sure how wet it is? Bake ${length(twin.length_m)} of it first, loose, at ${temp(twin.bake_c)}: then you know that it is ready between ${between(twin.early_h, twin.late_h)} after the start (9 in 10), instead of between ${between(twin.without_early_h, twin.without_late_h)}.`;
}

/** What nobody will be there for, by the hours at home in the settings. */
export function unattendedWords({ off, turn_over_attended, turn_over_h }: Ticket, now: Date): string[] {
  const at = (time: number) => when(later(now, time), now);
  const gaps = off.map(({ from_h, to_h }) => `from ${at(from_h)} to ${at(to_h)}`);
  const without =
    gaps.length > 0
      ? [`Nobody is up to set the timer: no heat ${gaps.join(", ")}. The times allow for it.`]
      : [];
  const turning = turn_over_attended
    ? []
    : [`Nobody is up at ${at(turn_over_h)} to turn the spool over. Start earlier or later to be there.`];
  return [...without, ...turning];
}

/** "Rain gauge", "Rain gauge and Dome rail". */
export const namesOf = (lanes: Plan["lanes"]): string => listed(lanes.map((lane) => lane.spool.name));

import type { Caution, Alternative, Limit, Plan, Ring, Scale, Ticket } from "../../api/client";
import type { Method } from "./queries";
import { aboutHours, chance, fixed, hours, percent } from "../../domain/numbers";
import { listed } from "../../domain/lists";
import { inWords, length, mass, size, temp, tempStep } from "../../domain/quantities";
import { later, when } from "../../domain/times";
import { DESICCANT_WORDS } from "../storage/words";

/** The name of the spool at a place among those that go in; only needed where there are several. */
const nameAt = (plan: Plan, spool: number | null): string =>
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

const HABIT_WORDS: Record<string, (value: number) => string> = {
  vent_m3_h: (value) => `${value} m³/h of vent flow`,
  swing_c: (value) => `a swing of ± ${tempStep(value)}`,
  hot_side_excess_c: (value) => `a hot side ${tempStep(value)} over the air`,
  warm_up_h: (value) => `${hours(value)} to warm up`,
  heater_w: (value) => `${value} W of heat`,
};

const limitOr = (caution: Caution, plan: Plan, say: (reason: string) => string): string =>
  caution.limit ? say(limitReason(caution.limit, plan)) : "";

type Words = (n: (name: string) => number, caution: Caution, plan: Plan) => string;

const whose = (caution: Caution, plan: Plan): string =>
  plan.lanes.length > 1 && caution.spool !== null ? `${nameAt(plan, caution.spool)}: ` : "";

const CAUTIONS: Record<Caution["kind"], Words> = {
  limit: (_, caution, plan) => limitOr(caution, plan, (reason) => `Past a limit: ${reason}.`),
  held_by_limit: (_, caution, plan) =>
    limitOr(
      caution,
      plan,
      (reason) => `Limited to ${temp(plan.ticket?.air_c ?? 0)}: ${reason}. The time allows for this.`,
    ),
  floor_above_aim: (n, caution, plan) =>
    `${whose(caution, plan)}the room’s air stops this at ${percent(n("floor_pct"))} %; it prints clean below ${percent(n("aim_pct"))} %. Hotter or drier air would help; more hours would not.`,
  ends_above_aim: (n, caution, plan) =>
    `${whose(caution, plan)}ends near ${percent(n("end_pct"))} %; it prints clean below ${percent(n("aim_pct"))} %. Give it more time or more heat.`,
  already_clean: (n, caution, plan) =>
    `${whose(caution, plan)}holds ${percent(n("start_pct"))} % and prints clean below ${percent(n("aim_pct"))} %.`,
  wets: (n, caution, plan) =>
    `${whose(caution, plan)}drier than this air: the run would wet it, from ${percent(n("start_pct"))} to ${percent(n("end_pct"))} %. Leave it in its bag.`,
  above_tg: (n, caution, plan) =>
    `${whose(caution, plan)}above the glass transition (${temp(n("tg_c"))}): the filament may anneal and keep the spool’s curl. Not for parts under load.`,
  hot_side: (n, caution, plan) =>
    `${whose(caution, plan)}the hottest spot in this dryer reaches ${temp(n("hot_c"))}; the filament softens at ${temp(n("soft_c"))}. Keep the deflector fitted and the spool off the heater.`,
  card_body: (_, caution, plan) =>
    `${whose(caution, plan)}a card spool gives off several grams of its own water. Darre subtracts an estimate, which is only rough.`,
  body_unknown: (_, caution, plan) =>
    `${whose(caution, plan)}we do not know what the empty spool is made of; many sag from ${temp(70)}. Check it in the first hour.`,
  turn_over: () => "Turn the spool over halfway: one side gets most of the heat.",
  assumed: (n, caution) =>
    `We assume typical values for this dryer: ${Object.keys(caution.numbers)
      .map((name) => HABIT_WORDS[name]?.(n(name)) ?? name)
      .join(", ")}. If you have measured them, enter them in Kit.`,
  display_doubtful: (n) =>
    `This display has not been checked: the air may be ${tempStep(n("plus_minus_c"))} hotter or cooler. Put a probe beside the spool and enter the pair in Kit.`,
  levels: (n) => `This dryer has levels, not degrees: this one gives about ${temp(n("air_c"))}.`,
  no_way_out: (_, { numbers }) =>
    `No vent: the water cannot leave and drips back from the lid. Leave a gap${neededWords(numbers.needed_g, ", or put in ", " of fresh silica gel", "; silica gel cannot keep this air dry enough")}.`,
  desiccant_spent: (n, { numbers }) =>
    `The ${mass(n("has_g"), 0)} of desiccant in it fill up before the spool prints clean. ${neededWords(numbers.needed_g, "Put in ", ", fresh out of the oven", "None of its kind keeps this air dry enough: molecular sieve does, or a vent")}.`,
  desiccant_hot: (n) =>
    `Desiccant in a box at ${temp(n("air_c"))}: a plastic pouch softens above ${temp(50)}. Use cloth or an open tray, away from the heater.`,
  no_fan: () => "No fan: the air forms layers, and one side dries later. Leave space around the spool.",
  only_if_opened: (_, caution, plan) =>
    `${whose(caution, plan)}its maker asks for drying only once the bag has been opened.`,
  fibres: (_, caution, plan) =>
    `${whose(caution, plan)}sheds fibres: wear gloves, do not rub it with bare hands, and wipe the box with a wet cloth.`,
  fumes: () =>
    "At this temperature plastics give off fumes and particles: ventilate, and do not sleep in the room.",
  oven: () =>
    "Never use this oven for food again, and never a gas oven or a microwave. Ovens overshoot: pre-heat, check with your own thermometer, then load.",
  stacker: () => "Never use it for food again. Keep its vents free and stack nothing on the lid.",
  bed: () => "Check that the printer’s maker allows bed drying, and leave its electronics uncovered.",
  hot_bed: (n) =>
    `A bed at ${temp(n("bed_c"))} burns skin and softens what lies on it. Put the spool on feet.`,
  chamber: () =>
    "Check that the printer’s maker allows a heated chamber this long; leave its electronics uncovered.",
  lamp: () =>
    "The bulb burns skin, and the side near it is far hotter: turn the spool, and keep paper and cloth away. Mains work is for a qualified person.",
  cabinet: () =>
    "A home-made heater on mains: wiring and fuse are work for a qualified person, by your local electrical rules.",
  lower_bound: (_, caution) =>
    `These hours are a lower bound: they count every turn as lying free. ${mostWords(caution.numbers.most_h)} Weigh the spool before you rely on them.`,
  heated_vacuum: () =>
    "Glass or acrylic under vacuum can implode, warm even sooner: rated vessels only, and eye protection. The maker’s manual comes first.",
  heat_unattended: () =>
    "Heat, mains and plastic can start a fire: watch the first hours, keep vents free, and have a smoke alarm nearby. The dryer’s manual and local fire rules come first.",
};

/** How much desiccant it takes, to the next 5 g: a kitchen scale is enough. */
function neededWords(grams: number | undefined, before: string, after: string, none: string): string {
  return grams === undefined ? none : `${before}${mass(Math.ceil(grams / 5) * 5, 0)}${after}`;
}

const mostWords = (most?: number): string =>
  most === undefined
    ? "What the winding adds is not known."
    : `With the winding as in other dryers it takes ${hours(most)}.`;

const sentence = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** A caution in words. Each ends with what to do. */
export function cautionText(caution: Caution, plan: Plan): string {
  return sentence(CAUTIONS[caution.kind]((name) => caution.numbers[name] ?? 0, caution, plan));
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

import type { Caution, Plan } from "../../api/client";
import { hours, percent } from "../../domain/numbers";
import { mass, temp, tempStep } from "../../domain/quantities";
import { sentence } from "../../domain/text";
import { limitReason, nameAt } from "./words";

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
  desiccant_hot: (n, { numbers }) =>
    `Desiccant in a box at ${temp(n("air_c"))}: a plastic pouch softens ${"stands_c" in numbers ? `above ${temp(n("stands_c"))}` : "at that heat"}. Use cloth or an open tray, away from the heater.`,
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
export const freshGrams = (grams: number): string => mass(Math.ceil(grams / 5) * 5, 0);

function neededWords(grams: number | undefined, before: string, after: string, none: string): string {
  return grams === undefined ? none : `${before}${freshGrams(grams)}${after}`;
}

const mostWords = (most?: number): string =>
  most === undefined
    ? "What the winding adds is not known."
    : `With the winding as in other dryers it takes ${hours(most)}.`;

/** A caution in words. Each ends with what to do. */
export function cautionText(caution: Caution, plan: Plan): string {
  return sentence(CAUTIONS[caution.kind]((name) => caution.numbers[name] ?? 0, caution, plan));
}

import type { Caution, Limit, Plan } from "../api/client";
import { degrees, hours, percent } from "../format/numbers";

/** What stands in the way of a hotter run. */
export function limitReason(limit: Limit, plan: Plan): string {
  const temp = `${degrees(limit.temp_c)} °C`;
  switch (limit.kind) {
    case "strand_soft":
      return `the strand softens above ${temp} in this dryer`;
    case "strand_fuse":
      return `the turns stick together from ${temp}`;
    case "body_sag":
      return `the spool body sags above ${temp}`;
    case "dryer_max":
      return `${plan.dryer.name} gets no hotter than ${temp}`;
    case "dryer_min":
      return `${plan.dryer.name} goes no lower than ${temp}`;
  }
}

/** The sentence that answers: what do I set, for how long? */
export function planSentence(plan: Plan): string {
  const { ticket, lane, dryer } = plan;
  const fatal = plan.broken.find((limit) => !limit.overridable);
  if (fatal) return `Not at ${degrees(ticket.air_c)} °C: ${limitReason(fatal, plan)}.`;
  const [past] = plan.broken;
  if (past) return `${degrees(ticket.air_c)} °C goes past a limit: ${limitReason(past, plan)}.`;
  if (lane.standing === "clean") {
    return ticket.end_pct > lane.moisture.value
      ? `${lane.spool.name} is under its clean mark already, and this run would wet it.`
      : `${lane.spool.name} is under its clean mark already: no need to dry it.`;
  }
  return `Set ${dryer.name} to ${degrees(ticket.dial_c)} °C for ${hours(ticket.duration_h)}.`;
}

const limitOr = (caution: Caution, plan: Plan, say: (reason: string) => string): string =>
  caution.limit ? say(limitReason(caution.limit, plan)) : "";

type Words = (n: (name: string) => string, caution: Caution, plan: Plan) => string;

const CAUTIONS: Record<Caution["kind"], Words> = {
  limit: (_, caution, plan) => limitOr(caution, plan, (reason) => `Past a limit: ${reason}.`),
  held_by_limit: (_, caution, plan) =>
    limitOr(caution, plan, (reason) => `Held at ${degrees(plan.temp_c)} °C: ${reason}. Give it more hours.`),
  floor_above_aim: (n) =>
    `The room's air stops this at ${n("floor_pct")} %, over the ${n("aim_pct")} % that prints clean. Hotter or drier air goes lower; more hours do not.`,
  ends_above_aim: (n) =>
    `It ends near ${n("end_pct")} %, over the ${n("aim_pct")} % that prints clean. Give it more hours, or heat.`,
  already_clean: (n) => `It holds ${n("start_pct")} % and prints clean under ${n("aim_pct")} %.`,
  card_body: () =>
    "The card body gives off grams of its own water. Darre takes that out, but knows it only roughly.",
  body_unknown: () =>
    "What plastic the spool body is, is not known; many sag from 70 °C. Look at it in the first hour.",
  vent_assumed: (n) =>
    `How much air this dryer exchanges is not known: ${n("vent_m3_h")} m³/h is assumed. A bench test would tell.`,
  turn_over: () => "Turn the spool over half way: the side on the bed gets the heat.",
  oven: () =>
    "Never use this oven for food again, and never a gas oven. Pre-heat, check with your own thermometer, then load; ventilate.",
  bed: () => "Check that the printer's maker allows bed drying, and leave its electronics uncovered.",
  heat_unattended: () =>
    "Heat, mains and plastic: watch the first hours, keep vents free and a smoke alarm near. The dryer's manual and local fire rules come first.",
};

/** A caution in words. Each ends with what to do. */
export function cautionText(caution: Caution, plan: Plan): string {
  return CAUTIONS[caution.kind]((name) => percent(caution.numbers[name] ?? 0), caution, plan);
}

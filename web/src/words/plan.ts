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
  if (lane.standing === "clean")
    return `${lane.spool.name} is under its clean mark already: no need to dry it.`;
  return `Set ${dryer.name} to ${degrees(ticket.dial_c)} °C for ${hours(ticket.duration_h)}.`;
}

/** A caution in words. Each ends with what to do. */
export function cautionText(caution: Caution, plan: Plan): string {
  const n = (name: string) => percent(caution.numbers[name] ?? 0);
  switch (caution.kind) {
    case "limit":
      return caution.limit ? `Past a limit: ${limitReason(caution.limit, plan)}.` : "";
    case "held_by_limit":
      return caution.limit
        ? `Held at ${degrees(plan.temp_c)} °C: ${limitReason(caution.limit, plan)}. Give it more hours.`
        : "";
    case "floor_above_aim":
      return `The room's air stops this at ${n("floor_pct")} %, over the ${n("aim_pct")} % that prints clean. Hotter or drier air goes lower; more hours do not.`;
    case "ends_above_aim":
      return `It ends near ${n("end_pct")} %, over the ${n("aim_pct")} % that prints clean. Give it more hours, or heat.`;
    case "already_clean":
      return `It holds ${n("start_pct")} % and prints clean under ${n("aim_pct")} %.`;
    case "card_body":
      return "The card body gives off grams of its own water. Darre takes that out, but knows it only roughly.";
    case "body_unknown":
      return "What plastic the spool body is, is not known; many sag from 70 °C. Look at it in the first hour.";
    case "turn_over":
      return "Turn the spool over half way: the side on the bed gets the heat.";
    case "oven":
      return "Never use this oven for food again, and never a gas oven. Pre-heat, check with your own thermometer, then load; ventilate.";
    case "bed":
      return "Check that the printer's maker allows bed drying, and leave its electronics uncovered.";
    case "heat_unattended":
      return "Heat, mains and plastic: watch the first hours, keep vents free and a smoke alarm near. The dryer's manual and local fire rules come first.";
  }
}

/** The forecast's own small print. */
export const LOOSE_STRAND = "Forecast for a loose strand: a wound spool takes longer.";

import type { RunAir } from "../../api/client";
import type { components } from "../../api/schema";
import { fixed, hours } from "../../domain/numbers";
import { massPlusMinus, temp, tempStep } from "../../domain/quantities";

/** What the box air says, in a sentence: grams per cubic metre, never relative humidity. */
export function airSentence(air: RunAir): string {
  const inside = fixed(air.inside_g_m3.at(-1) ?? 0, 1);
  const room = fixed(air.room_g_m3.at(-1) ?? 0, 1);
  const out = air.carried
    ? ` ${massPlusMinus(air.carried.value, air.carried.plus_minus, 1)} of water carried out so far.`
    : air.desiccant
      ? " Desiccant takes water up and gives it off when it warms, so nobody can say how much of it was the spool’s."
      : "";
  const tells = air.carried !== null && air.carried.value > air.carried.plus_minus;
  switch (air.air_state) {
    case "leaving":
      return `Water is leaving: the box air holds ${inside} g/m³, the room ${room} g/m³.${out}`;
    case "level":
      return `The box air reads ${inside} g/m³ and the room ${room}, a difference within this sensor’s error.${tells ? out : ""}`;
    case "no_way_out":
      return "The box air is nearly saturated: the water cannot leave. Open a vent, or add desiccant.";
    case "drier":
      return `The box is drier than the room: ${inside} against ${room} g/m³. Either desiccant is at work, or the sensor reads low.`;
  }
}

/** Why falling relative humidity is not drying. */
export function humidityLine(air: RunAir): string {
  const [first, now, heat] = [air.rh_first_pct, air.rh_now_pct, air.rh_unchanged_pct].map((value) =>
    fixed(value, 0),
  );
  return `Relative humidity went from ${first} to ${now} %. Heating alone would take it to ${heat} % without a single gram leaving.`;
}

/** What a dryer does, by the log of a run in it. */
export function habitsWords(told: components["schemas"]["ToldHabits"], dryer: string): string {
  const air = temp(Math.round(told.air_c));
  const set = told.set_c === null ? " " : `, set to ${temp(told.set_c)}, `;
  const every = told.period_h === null ? "" : ` every ${hours(told.period_h)}`;
  const swings = told.swing_c === null ? "" : `, swinging by ± ${tempStep(told.swing_c)}${every}`;
  const warm = told.warm_up_h === null ? "" : ` It takes ${hours(told.warm_up_h)} to warm up.`;
  const hot =
    told.hot_side_excess_c === null
      ? ""
      : ` A second logger was ${tempStep(told.hot_side_excess_c)} hotter: the hot side.`;
  return `By this log ${dryer}${set}holds ${air} beside the spool${swings}.${warm}${hot}`;
}

const AS_USUAL = 0.1;

/** How slowly a winding warms through, by a probe in it. */
export function warmsWords(times: number): string {
  const by = "By the probe in its winding this spool warms through";
  if (Math.abs(times - 1) < AS_USUAL) return `${by} as fast as is usual for its mass.`;
  return times > 1
    ? `${by} ${fixed(times, 1)} times as slowly as is usual for its mass.`
    : `${by} ${fixed(1 / times, 1)} times as fast as is usual for its mass.`;
}

import type { RunAir } from "../../api/client";
import { fixed } from "../../domain/numbers";
import { massPlusMinus } from "../../domain/quantities";

/** What the box air says, in a sentence: grams per cubic metre, never relative humidity. */
export function airSentence(air: RunAir): string {
  const inside = fixed(air.inside_g_m3.at(-1) ?? 0, 1);
  const room = fixed(air.room_g_m3.at(-1) ?? 0, 1);
  const out = air.carried
    ? ` ${massPlusMinus(air.carried.value, air.carried.plus_minus, 1)} of water carried out so far.`
    : air.desiccant
      ? " Desiccant takes water up and gives it off when it warms, so nobody can say how much of it was the spool’s."
      : "";
  switch (air.air_state) {
    case "leaving":
      return `Water is leaving: the box air holds ${inside} g/m³, the room ${room} g/m³.${out}`;
    case "level":
      return `This sensor is too coarse to tell the box from the room: it reads ${inside} g/m³ against ${room}.${out}`;
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

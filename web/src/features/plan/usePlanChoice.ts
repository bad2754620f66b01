import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Dryer, Lane } from "../../api/client";
import type { PlanQuery, SetupQuery, Method } from "./queries";
import { METHODS } from "./words";

export type PlanChange = Partial<
  Record<
    "spool" | "dryer" | "method" | "form" | "temp_c" | "duration_h" | "with" | "aim_pct" | "ready_at",
    string | null
  >
>;

const HOUR = 3_600_000;
const isWay = (text: string | null): text is Method => text !== null && text in METHODS;

/** Hours from `now` to an instant as a quarter of an hour, so that the question stays the same for a while. */
const quarterHoursTo = (at: string, now: number): string =>
  String(Math.max(Math.round(((Date.parse(at) - now) / HOUR) * 4) / 4, 0.25));

function coDriedOf(text: string | null, lead: number, lanes: Lane[]): number[] {
  const asked = (text ?? "").split(",").map(Number);
  return lanes.map((lane) => lane.spool.id).filter((id) => id !== lead && asked.includes(id));
}

/** A number that the address gives, as it was typed. */
function given(params: URLSearchParams, name: "temp_c" | "duration_h" | "aim_pct") {
  const text = params.get(name);
  return text === null ? {} : { [name]: text };
}

/** What goes in where: all that the map hangs on. */
function setupOf(
  params: URLSearchParams,
  spool: number,
  dryer: number | undefined,
  coDried: number[],
): SetupQuery {
  const form = params.get("form");
  return {
    spool,
    ...(dryer !== undefined && { dryer }),
    ...(coDried.length > 0 && { co_dried: coDried.join(",") }),
    ...(form !== null && { form: form === "loose" ? "loose" : "wound" }),
    ...given(params, "aim_pct"),
  };
}

/** What is chosen, kept in the address so that it can be gone back to. */
export function usePlanChoice(lanes: Lane[], dryers: Dryer[]) {
  const [params, setParams] = useSearchParams();
  const [opened] = useState(() => Date.now());
  const number = (name: string) => Number(params.get(name));
  const method = params.get("method");
  const lane = lanes.find((lane) => lane.spool.id === number("spool")) ?? lanes[0];
  // The server knows the best one where none is chosen, and the method that gets there.
  const dryer = dryers.find((dryer) => dryer.id === number("dryer"));
  const coDried = coDriedOf(params.get("with"), lane?.spool.id ?? 0, lanes);
  const readyAt = params.get("ready_at");
  const setup = setupOf(params, lane?.spool.id ?? 0, dryer?.id, coDried);
  const query: PlanQuery = {
    ...setup,
    ...(isWay(method) && { method }),
    ...given(params, "temp_c"),
    ...given(params, "duration_h"),
    ...(readyAt !== null && method === "ready_by" && { ready_in_h: quarterHoursTo(readyAt, opened) }),
  };

  function change(values: PlanChange) {
    const next = new URLSearchParams(params);
    next.set("spool", String(query.spool));
    for (const [name, value] of Object.entries(values)) {
      if (value === null) next.delete(name);
      else next.set(name, value);
    }
    setParams(next, { replace: true });
  }
  return { lane, coDried, setup, query, readyAt, change };
}

import type { RunRow } from "../../api/client";
import { STATE_WORDS } from "./words";

export type Which = "all" | "drying" | "ended";

/** Whether a run is asked for: by spool, material, dryer or verdict, and whether it goes on. */
export function isWanted(row: RunRow, typed: string, which: Which): boolean {
  const { run, material_short, verdict } = row;
  const goes = run.ended_at === null;
  if ((which === "drying" && !goes) || (which === "ended" && goes)) return false;
  const text = [run.spool.name, material_short, run.dryer.name, STATE_WORDS[verdict.state]]
    .join(" ")
    .toLowerCase();
  return typed
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

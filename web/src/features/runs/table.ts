import type { RunRow } from "../../api/client";
import type { FileTable } from "../../domain/tableFile";
import { subjectOf } from "./words";

/** Runs as a table to take along, one row each. */
export const runsTable = (rows: readonly RunRow[]): FileTable => ({
  title: "drying runs",
  columns: [
    { name: "run", means: "number" },
    { name: "spool", means: "what was dried" },
    { name: "material", means: "polymer" },
    { name: "dryer", means: "name" },
    { name: "temp_c", means: "temperature that was set" },
    { name: "planned_hours", means: "as planned" },
    { name: "started_at", means: "moment, with its zone" },
    { name: "ended_at", means: "moment, with its zone; empty while it runs" },
    { name: "out_g", means: "water out by the scale" },
    { name: "out_plus_minus_g", means: "its uncertainty, 19 times in 20" },
    { name: "left_low_pct", means: "water left, % of the dry mass: 19 cases in 20 lie above" },
    { name: "left_pct", means: "water left: the middle" },
    { name: "left_high_pct", means: "water left: 19 cases in 20 lie below" },
    { name: "state", means: "the verdict" },
  ],
  rows: rows.map(({ run, material_short, verdict }) => [
    run.id,
    subjectOf(run),
    material_short,
    run.dryer.name,
    run.temp_c,
    run.duration_h,
    run.started_at,
    run.ended_at,
    verdict.loss?.mass_g.value ?? null,
    verdict.loss?.mass_g.plus_minus ?? null,
    ...(verdict.told
      ? [verdict.moisture.p05, verdict.moisture.p50, verdict.moisture.p95]
      : [null, null, null]),
    verdict.state,
  ]),
});

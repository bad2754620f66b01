import type { EmptySpool } from "../../api/client";
import type { FileTable } from "../../domain/tableFile";

/** The empty spools whose mass is known, as a list to share: what it says can be taken over elsewhere as it is. */
export const emptiesTable = (rows: readonly EmptySpool[]): FileTable => ({
  title: "empty spools",
  columns: [
    { name: "name", means: "make" },
    { name: "kind", means: "what it is made of" },
    { name: "empty_g", means: "mass without filament" },
    { name: "plus_minus_g", means: "how far another of this make may be off, 19 times in 20" },
    { name: "weighed", means: "how many were weighed" },
    { name: "outer_diameter_mm", means: "across the flanges" },
    { name: "width_mm", means: "over the flanges" },
    { name: "hub_diameter_mm", means: "across the hub that the filament is wound on" },
  ],
  rows: rows.flatMap((row) =>
    row.mass_g === null
      ? []
      : [
          [
            row.name,
            row.kind,
            row.mass_g.value,
            row.mass_g.plus_minus,
            row.weighed,
            row.outer_diameter_mm,
            row.width_mm,
            row.hub_diameter_mm,
          ],
        ],
  ),
});

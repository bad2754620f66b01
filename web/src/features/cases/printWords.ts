import type { CaseFacts } from "../../api/client";
import { fixed } from "../../domain/numbers";

type Difference = CaseFacts["files"]["differs"][number];

const SETTINGS: Record<string, { name: string; unit: string; places: number }> = {
  extruded_mm: { name: "filament", unit: "mm", places: 0 },
  least_h: { name: "least time", unit: "h", places: 2 },
  nozzle_c: { name: "nozzle", unit: "°C", places: 0 },
  bed_c: { name: "bed", unit: "°C", places: 0 },
  fan_pct: { name: "fan", unit: "%", places: 0 },
  layer_mm: { name: "layer", unit: "mm", places: 2 },
  first_layer_mm: { name: "first layer", unit: "mm", places: 2 },
  layers: { name: "layers", unit: "", places: 0 },
  height_mm: { name: "height", unit: "mm", places: 1 },
  retraction_mm: { name: "retraction", unit: "mm", places: 2 },
  retraction_mm_s: { name: "retraction speed", unit: "mm/s", places: 0 },
  retractions: { name: "retractions", unit: "", places: 0 },
  speed_mm_s: { name: "print speed", unit: "mm/s", places: 0 },
  tools: { name: "tools", unit: "", places: 0 },
};

/** "retraction 0.8 → 1.4 mm" */
export function differenceWords(difference: Difference): string {
  const setting = SETTINGS[difference.name] ?? { name: difference.name, unit: "", places: 2 };
  const said = (value: number | null) => (value === null ? "not said" : fixed(value, setting.places));
  return `${setting.name} ${said(difference.one)} → ${said(difference.other)} ${setting.unit}`.trim();
}

/** Whether the two prints had the same file, and what that means for the comparison. */
export function sameFileWords(page: CaseFacts): string {
  switch (page.files.same) {
    case "file":
      return "The same file, byte for byte: what changed is not in it.";
    case "commands":
      return "The same commands; only comments in the file differ.";
    case "":
      return "Not the same file: what differs may be the cause of the change.";
    default:
      return page.after
        ? "Not known whether it was the same file."
        : "Print the same file again after drying.";
  }
}

type Change = CaseFacts["strengths"][number]["change"];

/** "+64 % (44 to 84)", or that it is no finding. */
export function changeWords(change: Change): string {
  const sign = change.change_pct > 0 ? "+" : "";
  const value = `${sign}${fixed(change.change_pct, 0)} %`;
  if (change.low_pct === null || change.high_pct === null) return `${value}, one bar each: no finding`;
  const range = `(${fixed(change.low_pct, 0)} to ${fixed(change.high_pct, 0)})`;
  return change.finding ? `${value} ${range}` : `${value} ${range}: no finding`;
}

import type { Dryer } from "../../api/client";
import type { components } from "../../api/schema";
import { bareTemp, typedSize, typedTemp, typedTempStep } from "../../domain/quantities";
import { sizeUnit, tempUnit, toSize, toTempStep } from "../../domain/units";

export type WriteDryer = components["schemas"]["WriteDryerRequest"];

type Measure = "temp" | "step" | "size" | "plain";
type Name =
  | "min_c"
  | "max_c"
  | "display_offset_c"
  | "hot_side_excess_c"
  | "swing_c"
  | "warm_up_h"
  | "vent_m3_h"
  | "timer_max_h"
  | "slots"
  | "max_diameter_mm"
  | "max_width_mm"
  | "heater_w"
  | "metered_kwh"
  | "metered_h"
  | "metered_air_c";

export interface KitField {
  name: Name;
  label: string;
  measure: Measure;
  unit: string;
}

const field = (name: Name, label: string, measure: Measure, unit = ""): KitField => ({
  name,
  label,
  measure,
  unit,
});

/** A dryer's numbers, in the groups in which they are asked for. */
export const GROUPS: readonly { title: string; fields: readonly KitField[] }[] = [
  {
    title: "What it can do",
    fields: [
      field("min_c", "Coolest air", "temp"),
      field("max_c", "Hottest air", "temp"),
      field("display_offset_c", "Display over air by", "step"),
      field("timer_max_h", "Longest timer turn", "plain", "h"),
    ],
  },
  {
    title: "What it does",
    fields: [
      field("vent_m3_h", "Vent flow", "plain", "m³/h"),
      field("swing_c", "Swings by ±", "step"),
      field("hot_side_excess_c", "Hot side over air", "step"),
      field("warm_up_h", "Warms up in", "plain", "h"),
    ],
  },
  {
    title: "What goes in",
    fields: [
      field("slots", "Spools it holds", "plain"),
      field("max_diameter_mm", "Largest diameter", "size"),
      field("max_width_mm", "Largest width", "size"),
    ],
  },
  {
    title: "What it draws",
    fields: [
      field("heater_w", "Average at hottest", "plain", "W"),
      field("metered_kwh", "Metered run", "plain", "kWh"),
      field("metered_h", "in", "plain", "h"),
      field("metered_air_c", "with air at", "temp"),
    ],
  },
];

const ALL_FIELDS = GROUPS.flatMap((group) => group.fields);
export const NEEDED: readonly Name[] = ["min_c", "max_c", "slots"];

/** The unit that stands behind a field. */
export function unitOf(it: KitField): string {
  if (it.measure === "temp" || it.measure === "step") return tempUnit();
  return it.measure === "size" ? sizeUnit() : it.unit;
}

/** A stored value as the person reads it. */
export function shownValue(it: KitField, value: number): string {
  if (it.measure === "temp") return bareTemp(value);
  const turned = it.measure === "step" ? toTempStep(value) : it.measure === "size" ? toSize(value) : value;
  return String(Number(turned.toFixed(3)));
}

/** What was typed as the server takes it; empty is "not known". */
function typedValue(it: KitField, text: string): string | null {
  if (text.trim() === "") return null;
  switch (it.measure) {
    case "temp":
      return typedTemp(text);
    case "step":
      return typedTempStep(text);
    case "size":
      return typedSize(text);
    case "plain":
      return text.trim();
  }
}

export interface Draft {
  name: string;
  kind: WriteDryer["kind"];
  note: string;
  fan: "yes" | "no" | "unknown";
  levels: string;
  choices: string;
  numbers: Record<string, string>;
}

const EMPTY: Draft = {
  name: "",
  kind: "heated_box",
  note: "",
  fan: "unknown",
  levels: "",
  choices: "",
  numbers: { slots: "1" },
};

/** A dryer as it stands in the form; an empty form for a new one. */
export function draftOf(dryer: Dryer | undefined): Draft {
  if (!dryer) return EMPTY;
  const { name, kind, note, fan } = dryer;
  return {
    name,
    kind,
    note,
    fan: fan === null ? "unknown" : fan ? "yes" : "no",
    levels: dryer.levels.map((level) => `${level.name} ${bareTemp(Number(level.air_c))}`).join(", "),
    choices: dryer.timer_choices_h.join(", "),
    numbers: Object.fromEntries(
      ALL_FIELDS.map((it) => {
        const value = dryer[it.name];
        return [it.name, value === null ? "" : shownValue(it, value)];
      }),
    ),
  };
}

const parts = (text: string): string[] =>
  text
    .split(/[;,]\s*/)
    .map((part) => part.trim())
    .filter((part) => part !== "");

/** "low 40, high 60" as levels. */
function levelsOf(text: string): { name: string; air_c: string }[] {
  return parts(text).map((part) => {
    const words = part.split(/\s+/);
    const last = words.pop() ?? "";
    return { name: words.join(" ") || last, air_c: typedTemp(last) };
  });
}

/** The draft as it is sent. */
export function bodyOf(draft: Draft): WriteDryer {
  const values = Object.fromEntries(
    ALL_FIELDS.map((it) => [it.name, typedValue(it, draft.numbers[it.name] ?? "")]),
  );
  const { slots, min_c, max_c, ...rest } = values;
  return {
    ...rest,
    name: draft.name.trim(),
    kind: draft.kind,
    note: draft.note.trim(),
    min_c: min_c ?? "",
    max_c: max_c ?? "",
    slots: Math.round(Number(slots ?? "1")) || 1,
    fan: draft.fan === "unknown" ? null : draft.fan === "yes",
    levels: levelsOf(draft.levels),
    timer_choices_h: parts(draft.choices),
  };
}

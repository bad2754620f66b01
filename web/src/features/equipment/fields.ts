import type { Dryer } from "../../api/client";
import type { components } from "../../api/schema";
import * as z from "zod";
import { type Measure, measured, shownIn } from "../../domain/measures";
import { bareTemp, typedTemp } from "../../domain/quantities";
import { tempUnit } from "../../domain/units";
import { maybeQuantity, maybeWords, quantity, words } from "../../forms/shape";

/** What a first scale is taken for. */
export const usualScale = () => ({
  name: "Kitchen scale",
  max_g: shownIn("mass", 5000),
  resolution_g: shownIn("mass", 1),
});

export type WriteDryer = components["schemas"]["WriteDryerRequest"];

export type DesiccantKind = NonNullable<WriteDryer["desiccant_kind"]>;

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
  | "metered_air_c"
  | "desiccant_g"
  | "desiccant_load_pct";

export interface KitField {
  name: Name;
  label: string;
  measure: Measure;
  /** In the server's unit, for the sentence that says what is needed. */
  example: number;
  unit: string;
}

const field = (name: Name, label: string, measure: Measure, example: number, unit = ""): KitField => ({
  name,
  label,
  measure,
  example,
  unit,
});

/** A dryer's numbers, in the groups in which they are asked for. */
export const GROUPS: readonly { title: string; fields: readonly KitField[] }[] = [
  {
    title: "What it can do",
    fields: [
      field("min_c", "Coolest air", "temp", 40),
      field("max_c", "Hottest air", "temp", 70),
      field("display_offset_c", "Display over air by", "step", 5),
      field("timer_max_h", "Longest timer turn", "plain", 12, "h"),
    ],
  },
  {
    title: "What it does",
    fields: [
      field("vent_m3_h", "Vent flow", "plain", 0.3, "m³/h"),
      field("swing_c", "Swings by ±", "step", 3),
      field("hot_side_excess_c", "Hot side over air", "step", 5),
      field("warm_up_h", "Warms up in", "plain", 0.4, "h"),
    ],
  },
  {
    title: "What goes in",
    fields: [
      field("slots", "Spools it holds", "plain", 2),
      field("max_diameter_mm", "Largest diameter", "size", 205),
      field("max_width_mm", "Largest width", "size", 75),
    ],
  },
  {
    title: "What it draws",
    fields: [
      field("heater_w", "Average at hottest", "plain", 120, "W"),
      field("metered_kwh", "Metered run", "plain", 0.6, "kWh"),
      field("metered_h", "in", "plain", 6, "h"),
      field("metered_air_c", "with air at", "temp", 55),
    ],
  },
];

/** The desiccant that lies in it; asked for only where there is some. */
export const DESICCANT_MASS = field("desiccant_g", "How much, dry", "mass", 150);
export const DESICCANT_LOAD = field("desiccant_load_pct", "Water in it", "plain", 3, "% of dry");

const ALL_FIELDS = [...GROUPS.flatMap((group) => group.fields), DESICCANT_MASS, DESICCANT_LOAD];
export const NEEDED: readonly Name[] = ["min_c", "max_c", "slots"];

/** The unit that stands behind a field. */
export const unitOf = (kitField: KitField): string => measured(kitField.measure).unit || kitField.unit;

const OPTIONAL = Object.fromEntries(
  ALL_FIELDS.map((kitField) => [
    kitField.name,
    maybeQuantity(kitField.measure, kitField.label.toLowerCase(), kitField.example),
  ]),
) as Record<Name, ReturnType<typeof maybeQuantity>>;

const YES_NO = ["yes", "no", "unknown"] as const;

/** What the form asks for; only name, range and slots have to be there. */
export const SHAPE = z.object({
  ...OPTIONAL,
  name: words("a name", "Grey box"),
  kind: z.custom<WriteDryer["kind"]>(),
  desiccant_kind: z.custom<DesiccantKind>(),
  note: maybeWords,
  fan: z.enum(YES_NO),
  on_plate: z.enum(YES_NO),
  levels: maybeWords.transform((text, issues) => {
    const levels = levelsOf(text);
    if (levels) return levels;
    const [mild, full] = [bareTemp(42), bareTemp(58)];
    const message = `Needed: each level’s name and its air in ${tempUnit()}, for example mild ${mild}, full ${full}.`;
    issues.addIssue({ code: "custom", message });
    return z.NEVER;
  }),
  timer_choices_h: maybeWords.transform(parts),
  min_c: quantity("temp", "the coolest air that it holds", 40),
  max_c: quantity("temp", "the hottest air that it reaches", 70),
  slots: quantity("plain", "how many spools it holds", 2).transform(Number),
});

export type Draft = z.input<typeof SHAPE>;

/** A dryer as it stands in the form; an empty form for a new one. */
export function draftOf(dryer: Dryer | undefined): Draft {
  const numbers = Object.fromEntries(
    ALL_FIELDS.map((kitField) => [kitField.name, shownIn(kitField.measure, dryer?.[kitField.name])]),
  ) as Record<Name, string>;
  if (!dryer)
    return {
      ...numbers,
      ...{
        name: "",
        kind: "heated_box",
        desiccant_kind: "",
        note: "",
        fan: "unknown",
        on_plate: "unknown",
        levels: "",
        timer_choices_h: "",
        slots: "1",
      },
    };
  const { name, kind, note, desiccant_kind } = dryer;
  return {
    ...numbers,
    ...{ name, kind, note, desiccant_kind },
    fan: yesNo(dryer.fan),
    on_plate: yesNo(dryer.on_plate),
    levels: dryer.levels.map((level) => `${level.name} ${bareTemp(Number(level.air_c))}`).join(", "),
    timer_choices_h: dryer.timer_choices_h.join(", "),
  };
}

/** What was filled in as it is sent. */
export const bodyOf = ({ fan, on_plate, ...rest }: z.output<typeof SHAPE>): WriteDryer => ({
  ...rest,
  ...(rest.desiccant_kind === "" && { desiccant_g: null, desiccant_load_pct: null }),
  fan: known(fan),
  on_plate: known(on_plate),
});

function yesNo(it: boolean | null): (typeof YES_NO)[number] {
  if (it === null) return "unknown";
  return it ? "yes" : "no";
}

const known = (it: (typeof YES_NO)[number]): boolean | null => (it === "unknown" ? null : it === "yes");

function parts(text: string): string[] {
  return text
    .split(/[;,]\s*/)
    .map((part) => part.trim())
    .filter((part) => part !== "");
}

const LEVEL =
  /\s*([^\d,;]*?[^\d,;\s:=])[\s:=]+(-?\d+(?:[.,]\d+)?)\s*(?:°?\s*[CF]\b|°)?\s*(?:[,;]|$|(?=[^\d\s,;]))/y;

/** "mild 42, full 58", also without the comma: each name with its temperature. Null where a part is no such pair. */
export function levelsOf(text: string): { name: string; air_c: string }[] | null {
  const levels = [];
  LEVEL.lastIndex = 0;
  while (text.slice(LEVEL.lastIndex).trim() !== "") {
    const found = LEVEL.exec(text);
    if (!found) return null;
    levels.push({ name: (found[1] ?? "").trim(), air_c: typedTemp(found[2] ?? "") });
  }
  return levels;
}

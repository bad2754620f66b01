/** Records and their fields in words, and values as people read them. */
import { fixed, hours, percent } from "../../domain/numbers";
import { mass, temp } from "../../domain/quantities";
import { day } from "../../domain/times";

const RECORDS: Record<string, string> = {
  "diagnosis.case": "case",
  "diagnosis.observation": "sign",
  "diagnosis.ownobservation": "observation of your own",
  "diagnosis.photo": "photo",
  "diagnosis.print": "print",
  "diagnosis.printfile": "print file",
  "diagnosis.verdict": "verdict",
  "devices.device": "device",
  "devices.sample": "readings of a device",
  "equipment.dryer": "dryer",
  "equipment.probepair": "probe reading",
  "equipment.scale": "scale",
  "inventory.emptyspool": "empty spool",
  "inventory.filamentuse": "printed filament",
  "inventory.moisturereading": "moisture",
  "inventory.ownmaterial": "material",
  "inventory.ownprogramme": "programme",
  "inventory.ownvalue": "material’s value",
  "inventory.preferences": "settings",
  "inventory.spool": "spool",
  "places.desiccantfill": "desiccant",
  "places.desiccantweighing": "weighing of desiccant",
  "places.place": "place",
  "places.room": "room",
  "places.roommonth": "room’s usual air",
  "places.roomreading": "readings of the room’s air",
  "places.stay": "stay",
  "runs.batch": "batch",
  "runs.run": "run",
  "runs.runevent": "event of a run",
  "runs.weighing": "weighing",
};

const FIELDS: Record<string, string> = {
  aim_pct: "aim",
  at: "at",
  dry_g: "dry mass",
  duration_h: "hours of heat",
  ended_at: "ended",
  gross_g: "gross",
  length_m: "length",
  mass_g: "mass",
  moisture_pct: "moisture",
  net_g: "net",
  rate_median: "rate against the computed one",
  rate_sigma: "its spread, as a logarithm",
  rh_pct: "relative humidity",
  sd_g: "standard uncertainty",
  sd_pct: "standard uncertainty",
  since: "from",
  start_moisture_pct: "moisture at the start",
  start_sd_pct: "its standard uncertainty",
  started_at: "started",
  surface_wet: "wet on the surface",
  tare_g: "tare",
  temp_c: "temperature",
  until: "until",
};

/** "weighing" for "runs.weighing". */
export const recordWords = (record: string): string => RECORDS[record] ?? record.split(".").at(-1) ?? record;

/** "gross" for "gross_g". */
export const fieldWords = (field: string): string =>
  FIELDS[field] ?? field.replace(/_(id|g|c|h|pct|mm|m)$/, "").replaceAll("_", " ");

const MOMENT = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}/;

const BY_UNIT: [RegExp, (value: number) => string][] = [
  [/_g$/, (value) => mass(value, 2)],
  [/_c$/, temp],
  [/_h$/, hours],
  [/_pct$/, (value) => `${percent(value)} %`],
  [/_mm$/, (value) => `${fixed(value, 2)} mm`],
];

/** A value before or after, with its unit. */
export function valueWords(field: string, value: unknown): string {
  if (value === null || value === undefined || value === "") return "nothing";
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (typeof value === "number") {
    const shown = BY_UNIT.find(([name]) => name.test(field))?.[1];
    return shown ? shown(value) : String(Number(value.toPrecision(6)));
  }
  if (typeof value !== "string") return JSON.stringify(value);
  return MOMENT.test(value) ? day(new Date(value)) : value;
}

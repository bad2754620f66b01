import type { Holding, Place } from "../api/client";
import { aboutHours, fixed, hours } from "../format/numbers";
import { mass, temp } from "../format/quantities";

export const PLACE_WORDS: Record<Place["kind"], string> = {
  shelf: "open shelf",
  printer: "on the printer",
  zip_bag: "zip bag",
  vacuum_bag: "vacuum bag",
  gasket_bin: "bin with a gasket",
  dry_box: "dry box that feeds the printer",
  warm_box: "box kept warm",
  vacuum_pot: "vacuum pot",
};

export const INDICATOR_WORDS = {
  none: "no indicator",
  orange: "orange beads",
  blue: "blue beads",
  card: "a humidity card",
} as const;

export const POUCH_WORDS = {
  bare: "loose beads",
  cloth_pouch: "cloth pouch",
  plastic_pouch: "plastic pouch",
} as const;

export const DESICCANT_WORDS = {
  silica_gel: "silica gel",
  alumina: "activated alumina",
  sieve: "molecular sieve",
  clay: "clay",
} as const;

/** "3 d", "5 h" for hours; "over 2 weeks" for none. */
export const span = (value: number | null): string =>
  value === null
    ? "over 2 weeks"
    : value < 48
      ? aboutHours(value).replace("about ", "")
      : `${Math.round(value / 24)} d`;

/** The sentence that answers: will it stay dry? */
export function keepSentence(holdings: readonly Holding[]): string {
  if (holdings.length === 0) return "Nothing is shut away yet. Add a bag, a bin or a box.";
  const soon = holdings
    .flatMap((it) => it.contents.map((inside) => ({ place: it.place, inside })))
    .filter((it) => it.inside.clean.hours !== null)
    .sort((a, b) => (a.inside.clean.hours ?? 0) - (b.inside.clean.hours ?? 0))[0];
  const spent = holdings.filter((it) => it.desiccant?.spent);
  const first = soon
    ? `${soon.inside.lane.spool.name} passes its clean mark in ${soon.place.name} in about ${span(soon.inside.clean.hours)}.`
    : "What is shut away and clean stays clean for two weeks.";
  if (spent.length === 0) return first;
  const names = spent.map((it) => it.place.name);
  const all = names.length > 1 ? `${names.slice(0, -1).join(", ")} and ${names.at(-1) ?? ""}` : names[0];
  return `${first} The desiccant in ${all ?? ""} is spent.`;
}

/** What the desiccant in a container amounts to. */
export function desiccantLine({ desiccant }: Holding): string {
  if (!desiccant) return "No desiccant in it.";
  const { load_pct, useful_pct, spent, name, fill } = desiccant;
  const held = `${mass(fill.dry_g, 0)} of ${name} hold ${fixed(load_pct, 1)} % water`;
  return spent
    ? `${held}: spent, as it can hold ${fixed(useful_pct, 1)} % while its spools stay clean.`
    : `${held}, of ${fixed(useful_pct, 1)} % that it can while its spools stay clean.`;
}

const HELD_BACK: Record<string, string> = {
  orange: "the orange dye stands no more",
  blue: "the blue dye stands no more",
  cloth_pouch: "the cloth pouch stands no more",
  plastic_pouch: "the plastic pouch stands no more",
};

/** How to dry it again, with what to mind. */
export function regenerationLines({ desiccant }: Holding): string[] {
  if (!desiccant) return [];
  const { regeneration: it, fill, name } = desiccant;
  const why = HELD_BACK[it.held_back_by] ? ` (${HELD_BACK[it.held_back_by] ?? ""})` : "";
  const first = it.too_cool
    ? `${temp(it.temp_c)}${why} is too cool for ${name}: take it out of its pouch, or put fresh in.`
    : `Dry it at ${temp(it.temp_c)} for ${hours(it.hours)}${why}: a layer one or two beads deep, turned half way.`;
  return [
    first,
    ...(fill.indicator === "blue"
      ? ["Blue beads may hold cobalt salts: gloves, no dust, away from children and food."]
      : []),
    ...(fill.indicator === "card" ? ["Take the card out first: it does not go into the oven."] : []),
    "An oven that is never used for food again, own thermometer, room aired. Hot beads burn; let them cool in a closed jar.",
  ];
}

/** What gets in, and how that is known. */
export function ingressLine(it: Holding): string {
  const water = it.water_g_day === null ? "" : `: ${mass(it.water_g_day, 2)} of water a day now`;
  return it.usual_ingress
    ? `Taken as usual for its kind${water}. Weigh its desiccant twice, some days apart, to know.`
    : `As you set it${water}.`;
}

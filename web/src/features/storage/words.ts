import type { Holding, Place } from "../../api/client";
import { aboutHours, fixed, hours } from "../../domain/numbers";
import { mass, temp } from "../../domain/quantities";

export const PLACE_WORDS: Record<Place["kind"], string> = {
  shelf: "open shelf",
  printer: "on the printer",
  zip_bag: "zip bag",
  vacuum_bag: "vacuum bag",
  gasket_bin: "bin with a gasket",
  dry_box: "dry box that feeds the printer",
  warm_box: "heated box",
  vacuum_pot: "vacuum pot",
  dryer: "dryer, switched off",
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
export function storageSentence(holdings: readonly Holding[]): string {
  if (holdings.length === 0) return "No containers yet. Add a bag, a bin or a box.";
  const held = holdings.flatMap((holding) => holding.contents);
  const soon = holdings
    .flatMap((holding) => holding.contents.map((inside) => ({ place: holding.place, inside })))
    .filter((held) => held.inside.clean.hours !== null)
    .sort((a, b) => (a.inside.clean.hours ?? 0) - (b.inside.clean.hours ?? 0))[0];
  const spent = holdings.filter((holding) => holding.desiccant?.spent);
  const first = soon
    ? `${soon.inside.lane.spool.name} will be too wet to print clean in about ${span(soon.inside.clean.hours)}, in ${soon.place.name}.`
    : held.length === 0
      ? "No spool is in a container. Move one there with M."
      : "Every clean spool in a container stays clean for the next two weeks.";
  if (spent.length === 0) return first;
  const names = spent.map((held) => held.place.name);
  const all = names.length > 1 ? `${names.slice(0, -1).join(", ")} and ${names.at(-1) ?? ""}` : names[0];
  return `${first} The desiccant in ${all ?? ""} is spent.`;
}

/** What the desiccant in a container amounts to. */
export function desiccantLine({ desiccant }: Holding): string {
  if (!desiccant) return "No desiccant inside.";
  const { load_pct, useful_pct, spent, name, fill } = desiccant;
  const held = `${mass(fill.dry_g, 0)} of ${name} holding ${fixed(load_pct, 1)} % water`;
  return spent
    ? `${held}: spent, because it can only hold ${fixed(useful_pct, 1)} % while the spools stay clean.`
    : `${held}. It can hold ${fixed(useful_pct, 1)} % while the spools stay clean.`;
}

const HELD_BACK: Record<string, string> = {
  orange: "hotter would damage the orange dye",
  blue: "hotter would damage the blue dye",
  cloth_pouch: "hotter would damage the cloth pouch",
  plastic_pouch: "hotter would damage the plastic pouch",
};

/** How to dry it again, with what to mind. */
export function regenerationLines({ desiccant }: Holding): string[] {
  if (!desiccant) return [];
  const { regeneration: it, fill, name } = desiccant;
  const why = HELD_BACK[it.held_back_by] ? ` (${HELD_BACK[it.held_back_by] ?? ""})` : "";
  const first = it.too_cool
    ? `${temp(it.temp_c)}${why} is too cool to dry ${name}: take it out of its pouch, or use fresh desiccant.`
    : `Dry it at ${temp(it.temp_c)} for ${hours(it.hours)}${why}: spread one or two beads deep, and turn it halfway.`;
  return [
    first,
    ...(fill.indicator === "blue"
      ? ["Blue beads may contain cobalt salts: wear gloves, raise no dust, keep away from children and food."]
      : []),
    ...(fill.indicator === "card" ? ["Take the card out first: it must not go into the oven."] : []),
    "Use an oven that will never hold food again, your own thermometer, and an aired room. Hot beads burn: let them cool in a closed jar.",
  ];
}

/** What leaks in, and how that is known. */
export function ingressLine(holding: Holding): string {
  const water = holding.water_g_day === null ? "" : `: ${mass(holding.water_g_day, 2)} of water a day now`;
  return holding.usual_ingress
    ? `Typical for its kind${water}. To measure it, weigh its desiccant twice, some days apart.`
    : `As you entered it${water}.`;
}

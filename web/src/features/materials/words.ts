import type { Material } from "../../api/client";
import { percent } from "../../domain/numbers";
import { temp } from "../../domain/quantities";

type Value = Material["values"][number];
export type PropertyName = Value["name"];

/** The field's own terms, and what each is for. */
export const TERMS: Record<PropertyName, { term: string; use: string }> = {
  clean: { term: "Clean threshold", use: "prints clean below" },
  trouble: { term: "Trouble threshold", use: "water shows in prints above" },
  brittle: { term: "Snaps", use: "cold filament snaps when bent above" },
  soaked: { term: "Held when soaked", use: "water held after lying in water" },
  soft: { term: "Softens", use: "a coil deforms under light load" },
  fuse: { term: "Turns fuse", use: "the turns stick to one another" },
  tg: { term: "Glass transition", use: "the guide for anything under load" },
  k1: { term: "Sorption, linear", use: "water held per unit of water activity (Henry’s law)" },
  k3: { term: "Sorption, cubic", use: "the upturn in damp air" },
  d23: { term: "Diffusivity at 23 °C", use: "how fast water moves in the filament" },
  ea: { term: "Activation energy", use: "how much heat speeds it up" },
  density: { term: "Density", use: "converts length to mass, and sets how full the spool is" },
};

export const PROGRAMME_TERMS: Record<Material["programmes"][number]["name"], string> = {
  gentle: "gentle",
  usual: "usual",
  brisk: "brisk",
  own: "my programme",
};

const find = (material: Material, name: PropertyName) =>
  material.values.find((value) => value.name === name)?.now ?? null;

/** The sentence that answers: what is known of this material? */
export function materialSentence(material: Material): string {
  const clean = find(material, "clean");
  const trouble = find(material, "trouble");
  const soft = find(material, "soft");
  const brittle = find(material, "brittle");
  if (!clean || !trouble || !soft) {
    return `${material.name} takes up too little water to need drying.`;
  }
  return `${material.name} prints clean below ${percent(clean.value)} %, shows water in prints above ${percent(trouble.value)} %${
    brittle ? `, snaps when bent cold above about ${percent(brittle.value)} %` : ""
  }, and softens at ${temp(soft.value)}.`;
}

const SMALL = 0.01;

/** A number of a material's: small ones as powers of ten. */
export function scientific(value: number): string {
  if (value === 0 || Math.abs(value) >= SMALL) return String(Number(value.toPrecision(4)));
  const power = Math.floor(Math.log10(Math.abs(value)));
  const digits = String(power)
    .replace("-", "⁻")
    .replace(/\d/g, (digit) => "⁰¹²³⁴⁵⁶⁷⁸⁹"[Number(digit)] ?? "");
  return `${Number((value / 10 ** power).toPrecision(3))} × 10${digits}`;
}

/** "× or ÷ 1.25", "± 4 °C" */
export function spreadWords(property: NonNullable<Value["now"]>): string {
  if (property.spread_kind === "factor") {
    return property.spread === 1 ? "exact" : `× or ÷ ${Number(property.spread.toPrecision(3))}`;
  }
  return `± ${scientific(property.spread)}`;
}

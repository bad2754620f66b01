import type { Points, Trial, TrialRow } from "../../api/client";
import type { components } from "../../api/schema";
import { countWord, fixed, hours, inCount, percent } from "../../domain/numbers";
import { mass, size, temp } from "../../domain/quantities";
import { sizeUnit, toSize } from "../../domain/units";

type Kind = Trial["kind"];
type Slip = components["schemas"]["SlipEnum"];
export type Design = components["schemas"]["Design"];

/** The questions that a trial begins from. */
export const QUESTIONS: Record<Kind, { question: string; how: string }> = {
  drying: {
    question: "How fast does it lose its water?",
    how: "Coils of one lot dry together and are taken out one by one.",
  },
  uptake: {
    question: "How much can my filament hold?",
    how: "Coils lie in water or in damp air and are weighed as they take it up.",
  },
  twin: {
    question: "What does my spool hold right now?",
    how: "One coil cut from it is dried until its mass stops moving.",
  },
  sponge: {
    question: "Which of my dryers takes more out?",
    how: "A wet sponge of known dry mass in each, for the same few hours.",
  },
  ladder: {
    question: "At what moisture does it start to show?",
    how: "The same small print at several moistures, rated without knowing which.",
  },
  swelling: {
    question: "Does it swell?",
    how: "Pieces are weighed and measured dry, and again once they have taken up water.",
  },
};

export const ratingWords = (showed: boolean): string => (showed ? "it shows" : "clean");

/** What a ladder promises, in one sentence. */
export function ladderPromise(found: components["schemas"]["LadderDesign"]): string {
  const { moistures_pct, prints, factor } = found;
  const many = moistures_pct.length * prints;
  return `${countWord(many)} prints, ${prints} at each of ${inCount(moistures_pct.length)} moistures, will tell the threshold ${factorWords(factor)}.`;
}

function ladderSentence(trial: Trial): string {
  const { mark } = trial;
  const of = trial.spool_name ?? "";
  if (!mark) return `Rate the first print to see at what moisture ${of} starts to show it.`;
  if (!mark.fits) return "No rising curve goes through these prints.";
  return `In ${of} the water shows from ${markWords(mark.mark_pct)}.`;
}

function ladderNote({ mark, closed_at, rungs }: Trial): string {
  if (mark && !mark.fits)
    return "Drier rungs showed it more often than wetter ones: was a letter mixed up, or something else wrong?";
  if (closed_at !== null) return "";
  const rated = rungs.reduce((sum, rung) => sum + rung.prints.length, 0);
  if (!mark) return "";
  return mark.told
    ? `${countWord(rated)} prints are enough: it is known ${factorWords(mark.factor)}.`
    : `After ${inCount(rated)} prints it is known ${factorWords(mark.factor)}: more prints make it surer.`;
}

const FOR_EACH = "for each per cent of water";

/** What pieces will show of swelling, in one sentence. */
export function swellingPromise(
  asked: { pieces: number; readings: number; length_mm: string },
  found: components["schemas"]["SwellingDesign"],
): string {
  const bars = `${countWord(asked.pieces)} ${asked.pieces === 1 ? "piece" : "pieces"} of ${size(Number(asked.length_mm))}`;
  if (found.least_pct === null) return "This filament takes up no water to swell with.";
  const read = asked.readings === 1 ? "once" : `${inCount(asked.readings)} times`;
  return `${bars}, each measured ${read}, show swelling from ${Number(found.least_pct.toPrecision(1))} % ${FOR_EACH}.`;
}

function swellingSentence({ swelling, spool_name }: Trial): string {
  const of = spool_name ?? "";
  if (!swelling)
    return `Measure the pieces again once they have taken up water: then it is told how ${of} swells.`;
  if (!swelling.fits) return "These pieces do not agree with one another.";
  const slope = swelling.strain_per_pct;
  if (!slope) return "The pieces weigh what they did: measure them again once they have taken up water.";
  if (slope.p05 > 0) return `${of} gets ${pointsWords(slope, " %")} longer ${FOR_EACH}.`;
  if (slope.p95 < 0) return `${of} gets shorter as it takes up water: were the pieces dry at first?`;
  return `No swelling of ${of} is seen: it is at most ${percent(slope.p95)} % ${FOR_EACH}.`;
}

function swellingNote(trial: Trial): string {
  const { swelling, samples, next } = trial;
  if (swelling && !swelling.fits) return "Was a piece mixed up, or measured along another side?";
  const grows = swelling?.part_grows_mm;
  if (swelling?.strain_per_pct && swelling.strain_per_pct.p05 > 0 && grows)
    return `A part of ${size(swelling.part_mm)} that was printed dry grows by ${pointsWords(inSize(grows), ` ${sizeUnit()}`)} in the air of the room, ${fixed(trial.room_rh_pct, 0)} %.`;
  if (swelling?.strain_per_pct)
    return "Longer pieces, more readings of each, or damper air would show less than that.";
  return nextWords(samples.find((sample) => sample.id === next));
}

const inSize = ({ p05, p50, p95 }: Points): Points => ({
  p05: toSize(p05),
  p50: toSize(p50),
  p95: toSize(p95),
});

const swellingShort = (slope: Points): string =>
  slope.p05 > 0
    ? `${pointsWords(slope, " %")} longer ${FOR_EACH}`
    : `no swelling seen, at most ${percent(slope.p95)} % ${FOR_EACH}`;

/** "5.2 (4.6 to 5.9)", with the digits that the range allows. */
export function pointsWords({ p05, p50, p95 }: Points, unit = ""): string {
  const places = placesFor(p95 - p05);
  const write = (value: number) => fixed(value, places);
  return `${write(p50)}${unit} (${write(p05)} to ${write(p95)})`;
}

/** "0.22 % (0.15 to 0.36)": a moisture with the digits that moistures have. */
export const markWords = ({ p05, p50, p95 }: Points): string =>
  `${percent(p50)} % (${percent(p05)} to ${percent(p95)})`;

function placesFor(width: number): number {
  if (!(width > 0)) return 2;
  return Math.min(Math.max(Math.ceil(-Math.log10(width)), 0), 3);
}

/** The sentence that a trial opens with. */
export function trialSentence(trial: Trial): string {
  if (trial.kind === "sponge") return spongeSentence(trial);
  if (trial.kind === "ladder") return ladderSentence(trial);
  if (trial.kind === "swelling") return swellingSentence(trial);
  const of = trial.spool_name ?? "";
  if (trial.kind === "twin")
    return trial.start_pct
      ? `${of} held ${pointsWords(trial.start_pct, " %")} when the coil was cut.`
      : `Weigh the coil once it stops losing: then it is known what ${of} held.`;
  const { fit } = trial;
  if (!fit) return waiting(trial);
  if (!fit.fits && fit.doubtful === null) return "These samples do not agree with one another.";
  const asked = askedOf(trial.kind, fit);
  if (isTooWide(asked)) return `Too early to tell: ${tooWide(trial.kind, asked)}.`;
  const at = trial.temp_c === null ? "" : `At ${temp(trial.temp_c)} `;
  if (trial.kind === "uptake") return `${of} can hold ${pointsWords(fit.end_pct, " %")}${where(trial)}.`;
  return `${at}a loose coil of ${of} gives off half of its water in ${pointsWords(fit.half_h, " h")}.`;
}

const TOO_WIDE = 5; // between the ends of an estimate: over that it says next to nothing

const isTooWide = ({ p05, p95 }: Points): boolean => p95 > TOO_WIDE * p05;

/** The estimate that a lot's question is about. */
const askedOf = (kind: Kind, fit: NonNullable<Trial["fit"]>): Points =>
  kind === "uptake" ? fit.end_pct : fit.half_h;

/** Whether a lot has told so little as yet that its numbers are not worth showing. */
export const isTooEarly = ({ kind, fit }: Trial): boolean => fit !== null && isTooWide(askedOf(kind, fit));

const tooWide = (kind: Kind, { p05, p95 }: Points): string =>
  kind === "uptake"
    ? `it may hold anything from ${percent(p05)} to ${percent(p95)} %`
    : `half of its water may be gone in anything from ${hours(p05)} to ${hours(p95)}`;

const where = (trial: Trial) =>
  trial.rh_pct === null ? " in water" : ` in air of ${fixed(trial.rh_pct, 0)} %`;

function waiting(trial: Trial): string {
  const weighed = trial.samples.filter((sample) => !sample.baked && sample.readings.length > 0).length;
  const left = Math.max(3 - weighed, 1);
  return `${countWord(left)} more ${left === 1 ? "weighing" : "weighings"}, then the first estimate stands here.`;
}

function spongeSentence({ pairs, sponges, samples }: Trial): string {
  const apart = (pair: Pair) => Math.abs(Math.log(pair.ratio?.p50 ?? 1));
  const [best] = [...pairs].filter((pair) => pair.ratio !== null).sort((a, b) => apart(b) - apart(a));
  if (best) return `${pairWords(best)}.`;
  if (sponges.some((sponge) => !sponge.told)) return "Not told: a sponge ran dry, or desiccant took part.";
  return sponges.length < samples.length
    ? "Weigh the sponges: what each dryer takes out stands here then."
    : "Nothing can be compared yet.";
}

type Pair = Trial["pairs"][number];

/** Which of two dryers takes out more, and how much. */
function pairWords({ one, other, ratio }: Pair): string {
  if (!ratio) return `${one} and ${other} cannot be compared`;
  const { p05, p50, p95 } = ratio;
  if (p05 <= 1 && p95 >= 1) return `${one} and ${other} take out about as much: ${pointsWords(ratio)} times`;
  const more = p50 > 1 ? ratio : { p05: 1 / p95, p50: 1 / p50, p95: 1 / p05 };
  const [first, second] = p50 > 1 ? [one, other] : [other, one];
  return `${first} takes out ${pointsWords(more)} times as much as ${second}`;
}

/** What would make it surer, or what is wrong with it. */
export function trialNote(trial: Trial): string {
  if (trial.kind === "ladder") return ladderNote(trial);
  if (trial.kind === "swelling") return swellingNote(trial);
  const { fit } = trial;
  if (fit?.doubtful)
    return `${fit.doubtful} does not go with the others and is left out. Look at its reading: perhaps it was mistyped.`;
  if (fit && !fit.fits)
    return "Nothing is concluded. Were they all of one lot, wiped alike, at the same temperature?";
  if (trial.kind === "uptake" && fit && trial.sum?.twin_known === false)
    return "Without a baked coil what was in them before is a guess: a fifth of what they hold. Bake one to know.";
  return nextWords(trial.samples.find((sample) => sample.id === trial.next));
}

function nextWords(due: Trial["samples"][number] | undefined): string {
  if (!due) return "";
  if (due.readings.length > 0)
    return `All are weighed. End the trial, or weigh again what went back in: ${due.name} is next.`;
  return due.planned_h
    ? `Next: take ${due.name} out ${hours(due.planned_h)} after the start.`
    : `Next: ${due.name}.`;
}

/** A trial in the list. */
export function rowSentence(row: TrialRow): string {
  const [pair] = row.pairs;
  if (pair) return pairWords(pair);
  if (row.kind === "ladder")
    return row.mark ? `shows from ${markWords(row.mark.mark_pct)}` : "nothing rated yet";
  if (row.kind === "swelling" && row.swelling?.strain_per_pct)
    return swellingShort(row.swelling.strain_per_pct);
  return coilsSentence(row) ?? `${row.readings} of ${row.samples} weighed`;
}

function coilsSentence({ kind, half_h, holds_pct, temp_c }: TrialRow): string | null {
  if (kind === "twin") return holds_pct && `held ${pointsWords(holds_pct, " %")}`;
  const asked = kind === "drying" ? half_h : holds_pct;
  if (!asked) return null;
  if (isTooWide(asked)) return "too early to tell";
  return kind === "drying"
    ? `half gone in ${pointsWords(asked, " h")} at ${temp(temp_c ?? 0)}`
    : `can hold ${pointsWords(asked, " %")}`;
}

const SLIPS: Record<Slip, (total: string) => string> = {
  wet_basis: (total) => `That is of the wet mass: of the dry mass it is ${total} %.`,
  twin_forgotten: (total) =>
    `That leaves out what was there before, as the baked coil tells: ${total} % in all.`,
  twin_forgotten_wet: (total) =>
    `That leaves out what was there before, and is of the wet mass: ${total} % of the dry mass in all.`,
  gross: (total) =>
    `That is of the mass with something else on the scale: of the dry filament it is ${total} %.`,
  sign: (total) => `That has the difference the wrong way round: it is ${total} %.`,
};

/** What is to be said of a percentage that somebody got. */
export function slipWords(found: components["schemas"]["Slip"]): string {
  if (found.typed_is_right) return "That is right.";
  if (found.slip === null) return `It comes to ${percent(found.total_pct)} %; no usual slip gives yours.`;
  return SLIPS[found.slip](percent(found.total_pct));
}

/** "within a factor of 1.05", or how far off it is. */
export const factorWords = (factor: number): string =>
  factor < 1.995
    ? `within ±\u00a0${fixed((factor - 1) * 100, 0)}\u00a0%`
    : `only within a factor of ${fixed(factor, 0)}`;

/** What a design promises, in one sentence. */
export function designSentence(found: Design): string {
  const sure = factorWords(found.diffusivity_factor);
  return `These ${inCount(found.times_h.length)} will tell how fast it is ${sure}.`;
}

/** A finer scale that would tell more, where there is one that takes a coil. */
export function finerScale(found: Design, chosen: number): string {
  const own = found.scales.find((scale) => scale.scale === chosen);
  const [best] = [...found.scales]
    .filter((scale) => scale.takes_it)
    .sort((a, b) => a.diffusivity_factor - b.diffusivity_factor);
  if (!own || !best) return "";
  if (!own.takes_it)
    return `A coil of ${mass(found.coil_g, 0)} is too heavy for ${own.name}: ${best.name} takes it.`;
  return best.scale !== chosen && best.diffusivity_factor < 0.8 * own.diffusivity_factor
    ? `With ${best.name} it would be ${factorWords(best.diffusivity_factor)}.`
    : "";
}

/** The air beside coils, or in a sponge’s dryer. */
export const whoseAir = (name: string): string => (name === "" ? "air beside them" : `air in ${name}`);

/** What it was on average. */
export function airWords({ name, mean }: Trial["airs"][number]): string {
  return `The ${whoseAir(name)} was ${temp(Math.round(mean.temp_c))} and ${fixed(mean.rh_pct, 0)} % on average`;
}

/** How much air a sponge’s dryer exchanges, or why that is not told. */
export function flowWords({ airs }: Trial, { name, vent_m3_h }: Trial["sponges"][number]): string {
  if (vent_m3_h) return pointsWords(vent_m3_h);
  return airs.some((air) => air.name === name) ? "not told by its air" : "air not measured";
}

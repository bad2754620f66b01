import type { Scale, SpoolFacts } from "../../api/client";
import { fixed, hours, percent, plusMinus } from "../../domain/numbers";
import { mass, massPlusMinus, temp } from "../../domain/quantities";
import { span } from "../storage/words";

export const EMPTY_SPOOL_WORDS = {
  polystyrene: "polystyrene",
  abs: "ABS",
  pc: "polycarbonate",
  petg: "PETG or similar",
  "recycled-pla": "recycled PLA",
  card: "card",
  unknown: "unknown",
} as const;

const TARE_WORDS = {
  unknown: { name: "not known", note: "a usual one, ± 45 %" },
  nominal: { name: "new, less its label", note: "± 20 g" },
  measured: { name: "weighed empty", note: "this spool" },
  twin: { name: "an emptied twin", note: "± 6 g" },
} as const;

export type TareMethod = keyof typeof TARE_WORDS;

/** "212 ± 6 g, an emptied twin": what the empty spool weighs and how that is known. */
export const tareWords = (spool: SpoolFacts["traced"]["lane"]["spool"]): string =>
  `${massPlusMinus(spool.tare_g, 2 * spool.tare_sd_g, 1)}, ${TARE_WORDS[spool.tare_method].name}`;

/** How the mass of the empty spool is known, to choose from. */
export const TARE_OPTIONS = (Object.keys(TARE_WORDS) as TareMethod[]).map((value) => ({
  value,
  ...TARE_WORDS[value],
}));

export const BASIS_WORDS = { new: "new from the factory", typed: "noted", run: "a run ended" } as const;

const OUTCOME_WORDS = {
  stay: "left where it is",
  out: "left out",
  bag: "in a zip bag, no desiccant",
  bin: "in a bin",
  dry: "dried, then in that bin",
} as const;

export type OutcomeName = keyof typeof OUTCOME_WORDS;

const DRYING_STAYS = "left in the dryer, shut";

/** What would be done with a spool, which may be `drying` now; `whole` tells the desiccant too. */
export const outcomeWords = (name: OutcomeName, whole: boolean, drying: boolean): string => {
  if (name === "bin" && whole) return `${OUTCOME_WORDS.bin}, ${mass(200, 0)} fresh gel`;
  const words = name === "stay" && drying ? DRYING_STAYS : OUTCOME_WORDS[name];
  return whole ? words : (words.split(",")[0] ?? name);
};

/** The sentence that answers: how is this spool, and what would help? */
export function spoolSentence({ traced }: SpoolFacts): string {
  const { lane } = traced;
  const { name } = lane.spool;
  const whole = `${percent(lane.moisture.value)} %`;
  if (lane.run) return `${name} is drying in ${lane.run.dryer_name}, at ${whole} now.`;
  const now =
    lane.next === null
      ? `${whole} of water`
      : `${percent(lane.next.pct)} % of water in the next ${mass(lane.next.mass_g, 0)}, ${whole} over all of it`;
  const snaps = lane.snaps ? " Bent cold, the filament may snap." : "";
  switch (lane.moisture_level) {
    case "clean":
      return `${name} prints clean: ${now}.${snaps}`;
    case "between":
      return `${name} is a little too wet to print clean: ${now}.${snaps}`;
    case "trouble":
      return `${name} is wet enough to show in prints: ${now}.${snaps}`;
    case "no_matter":
      return `${name} takes up too little water to matter.`;
  }
}

/** Whether desiccant would dry this very spool, and how that compares with heat. */
export function disputeLine(page: SpoolFacts): string {
  const { dries_h, traced } = page;
  const { lane, heat } = traced;
  if (lane.clean_pct === null) return "It needs neither desiccant nor heat.";
  if (lane.moisture_level === "clean") return "It prints clean: desiccant only has to keep it so.";
  const gel =
    dries_h === null
      ? "Desiccant won’t dry this spool: even plenty of fresh desiccant takes over four months"
      : dries_h < 1
        ? "With plenty of fresh desiccant it prints clean within the hour"
        : `Desiccant dries this spool, but slowly: with plenty of it, it prints clean in ${span(dries_h)}`;
  if (lane.run) return `${gel}.`; // it is in a dryer already
  if (!heat) return `${gel}; none of your dryers suits it.`;
  return heat.reaches
    ? `${gel}; heat takes ${hours(heat.duration_h)} at ${temp(heat.temp_c)} in ${heat.dryer_name}.`
    : `${gel}; heat in ${heat.dryer_name} brings it to about ${percent(heat.end_pct)} %.`;
}

/** Whether scale and print could tell that it lay in the open for a night: for who means to try it on purpose. */
export function dampNightLine({ damp_night: night }: SpoolFacts, scales: readonly Scale[]): string {
  if (!night) return "";
  const name = scales.find((scale) => scale.id === night.scale)?.name ?? "A scale";
  const adds = `A night in the open adds ${percent(night.adds_pct)} %`;
  const [byScale, byPrint] = [night.scale_h, night.prints_h];
  const sees = byScale !== null && byScale <= NIGHT_H;
  const shows = byPrint !== null && byPrint <= NIGHT_H;
  if (sees && shows) return `${adds}: ${name} and a print both show it.`;
  if (shows) return `${adds}: a print shows it.`;
  if (scales.length === 0) return `${adds}: ${printAlone(byPrint)}.`;
  const print = byPrint === null ? "a print would not in two weeks" : printLater(byPrint);
  if (sees) return `${adds}: ${name} shows it; ${print}.`;
  const scale =
    byScale === null
      ? "Your scales would not show it in two weeks"
      : `${name} shows what it has taken up ${afterwards(byScale)}`;
  return `${adds}: neither your scale nor a print can tell. ${scale}; ${print}.`;
}

const afterwards = (hours: number) => `after ${span(hours)} in the open`;
const printLater = (hours: number) => `a print shows the water ${afterwards(hours)}`;

/** Where there is no scale: what a print shows of more than a night. */
const printAlone = (hours: number | null) =>
  hours === null ? "no print shows it, even after two weeks" : `no print shows it yet; ${printLater(hours)}`;

const NIGHT_H = 12;

/** What runs taught of this spool. */
export const learnedLine = (rate: SpoolFacts["learned"][number]): string => {
  const low = rate.median * Math.exp(-1.645 * rate.sigma);
  const high = rate.median * Math.exp(1.645 * rate.sigma);
  return `In ${rate.dryer_name} it dries ${fixed(rate.median, 2)} times as fast as computed (9 in 10: ${fixed(low, 2)} to ${fixed(high, 2)}), judging by ${rate.runs} ${rate.runs === 1 ? "run" : "runs"}.`;
};

/** "0.17 ± 0.10 %" */
export const moistureWords = (pct: number, sd: number): string => `${plusMinus(pct, 2 * sd, 2)} %`;

/** What the maker's sheet asks for. */
export const sheetLine = (sheet: {
  temp_c: number | string;
  duration_h: number | string;
  only_if_opened: boolean;
}): string =>
  `${temp(Number(sheet.temp_c))} for ${hours(Number(sheet.duration_h))}${sheet.only_if_opened ? ", only if opened" : ""}`;

import type { SpoolPage } from "../api/client";
import { aboutHours, fixed, hours, percent, plusMinus } from "../format/numbers";
import { mass, temp } from "../format/quantities";
import { span } from "./keep";

export const BODY_WORDS = {
  polystyrene: "polystyrene",
  abs: "ABS",
  pc: "polycarbonate",
  petg: "PETG or alike",
  "recycled-pla": "recycled PLA",
  card: "card",
  unknown: "not known",
} as const;

export const TARE_WORDS = {
  measured: { name: "weighed empty", note: "this very one" },
  twin: { name: "an emptied twin", note: "± 6 g" },
  nominal: { name: "new mass less 1000 g", note: "± 20 g" },
} as const;

export const BASIS_WORDS = { new: "new from the factory", typed: "noted", run: "a run ended" } as const;

const OUTCOME_WORDS = {
  stay: "left where it is",
  out: "left out",
  bag: "in a zip bag, no desiccant",
  bin: "in a bin",
  dry: "dried, then in that bin",
} as const;

export type OutcomeName = keyof typeof OUTCOME_WORDS;

/** What would be done with a spool; `whole` tells the desiccant too. */
export const outcomeWords = (name: OutcomeName, whole: boolean): string => {
  if (name === "bin" && whole) return `${OUTCOME_WORDS.bin}, ${mass(200, 0)} fresh gel`;
  return whole ? OUTCOME_WORDS[name] : (OUTCOME_WORDS[name].split(",")[0] ?? name);
};

/** The sentence that answers: how is this spool, and what would help? */
export function spoolSentence({ traced }: SpoolPage): string {
  const { lane } = traced;
  const { name } = lane.spool;
  const now = `${percent(lane.moisture.value)} %`;
  if (lane.run) return `${name} is drying in ${lane.run.dryer_name}, at ${now} now.`;
  switch (lane.standing) {
    case "clean":
      return `${name} prints clean: ${now} of water.`;
    case "between":
      return `${name} is over its clean mark: ${now} of water.`;
    case "trouble":
      return `${name} is wet enough to show: ${now} of water.`;
    case "no_matter":
      return `${name} takes up too little water to matter.`;
  }
}

/** Whether desiccant would dry this very spool, and how that compares with heat. */
export function disputeLine(page: SpoolPage): string {
  const { dries_h, heat, heat_dryer, traced } = page;
  const { lane } = traced;
  if (lane.clean_pct === null) return "It needs neither desiccant nor heat.";
  if (lane.standing === "clean") return "It is under its clean mark: desiccant has only to keep it there.";
  const gel =
    dries_h === null
      ? "Desiccant does not dry this spool: beside plenty of fresh one it is not clean in four months"
      : dries_h < 1
        ? "Beside plenty of fresh desiccant it is clean within the hour"
        : `Desiccant does dry this spool, slowly: beside plenty of fresh one it is clean in ${span(dries_h)}`;
  return heat
    ? `${gel}; heat takes ${aboutHours(heat.duration_h).replace("about ", "")} at ${temp(heat.temp_c)} in ${heat_dryer}.`
    : `${gel}; no dryer of yours brings it there.`;
}

/** What runs taught of this spool. */
export const learnedLine = (it: SpoolPage["learned"][number]): string => {
  const low = it.median * Math.exp(-1.645 * it.sigma);
  const high = it.median * Math.exp(1.645 * it.sigma);
  return `In ${it.dryer_name} it dries ${fixed(it.median, 2)} times as fast as computed (9 in 10: ${fixed(low, 2)} to ${fixed(high, 2)}), by ${it.runs} ${it.runs === 1 ? "run" : "runs"}.`;
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

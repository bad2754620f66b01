import type {
  CaseEvidence,
  CaseRow,
  CauseId,
  CheckId,
  FeatureId,
  SignId,
  VerdictKind,
} from "../../api/client";
import { fixed } from "../../domain/numbers";

interface SignWords {
  /** The sign as a row names it. */
  name: string;
  /** What to look and listen for, as at the bench. */
  look: string;
  /** What stands under its name once it was looked for. */
  seen: string;
  unseen: string;
}

export const SIGN_WORDS: Record<SignId, SignWords> = {
  crackle: {
    name: "Crackles or hisses on a slow push",
    look: "Small dry pops, like fat in a pan, or a hiss that comes and goes while the filament creeps out.",
    seen: "heard",
    unseen: "quiet",
  },
  steam: {
    name: "Steam at the nozzle",
    look: "A pale wisp against something dark, gone within a hand’s breadth. Not the blue smoke of scorched plastic.",
    seen: "seen",
    unseen: "none",
  },
  bubbles: {
    name: "Bubbles, rough or uneven filament",
    look: "Hold the cold filament to a lamp: pinholes, frosted stretches, bulges and thin necks.",
    seen: "rough",
    unseen: "smooth and clear",
  },
  caliper: {
    name: "Calipers: the diameter varies more",
    look: "Measure ten places along purged filament, and ten along filament from a dry spool.",
    seen: "spread is wider",
    unseen: "spread is not wider",
  },
  ooze: {
    name: "Ooze that goes on when idle",
    look: "Stop pushing and wait ten seconds. It keeps coming in little jerks, although nothing is being fed.",
    seen: "goes on",
    unseen: "stops",
  },
  strings: {
    name: "Fine strings",
    look: "Cobwebs between towers or across a gap, where the nozzle only travelled.",
    seen: "there",
    unseen: "none",
  },
  blobs: {
    name: "Blobs and zits",
    look: "Warts on the outer wall, often one above the other where each layer begins.",
    seen: "there",
    unseen: "none",
  },
  pits: {
    name: "Pits at line starts",
    look: "The first millimetres of a line are thin or missing.",
    seen: "there",
    unseen: "none",
  },
  top: {
    name: "Open or pillowed top",
    look: "Gaps between the lines of the topmost layer, or a quilt of small cushions.",
    seen: "open",
    unseen: "closed",
  },
  weak_layers: {
    name: "Weak between layers",
    look: "Bend a thin wall over your thumb: it parts cleanly along a layer, with a dull face.",
    seen: "parts along a layer",
    unseen: "holds",
  },
  overhangs: {
    name: "Rough overhangs",
    look: "Undersides that sag or curl, while walls that stand upright are fine.",
    seen: "rough",
    unseen: "clean",
  },
  first_layer: {
    name: "First layer lets go",
    look: "Corners lift, or lines drag after the nozzle.",
    seen: "lets go",
    unseen: "holds",
  },
  specks: {
    name: "Burnt specks",
    look: "Brown or black grains in the wall.",
    seen: "there",
    unseen: "none",
  },
  snap: {
    name: "Cold filament snaps when bent",
    look: "Bend a hand’s length slowly to a tight loop. It breaks with a click before the ends meet.",
    seen: "snaps",
    unseen: "bends",
  },
  swap: {
    name: "Same file from a dry spool: clean",
    look: "Same printer, same file, same settings, but another spool that you know is dry.",
    seen: "came out clean",
    unseen: "same fault",
  },
  after_drying: {
    name: "After drying, same file: clean",
    look: "Dry this spool, change nothing else, and print the same file again.",
    seen: "came out clean",
    unseen: "same fault",
  },
  other_spools: {
    name: "Other spools show it too",
    look: "Think of the last prints from other spools on this printer.",
    seen: "they do",
    unseen: "they do not",
  },
  settings_changed: {
    name: "Retraction, temperature or profile changed recently",
    look: "Anything that you, an update or a new profile changed since the last good print.",
    seen: "changed",
    unseen: "nothing changed",
  },
  nozzle_suspect: {
    name: "Nozzle worn, or blocked before",
    look: "Fibre or metal has been printed through it, filament leaves it at an angle, or it was blocked not long ago.",
    seen: "yes",
    unseen: "sound",
  },
  came_slowly: {
    name: "Grew worse over days",
    look: "Put the last prints in a row: a little worse each time, or good until one day?",
    seen: "print by print",
    unseen: "all at once",
  },
};

export const isSign = (id: string): id is SignId => id in SIGN_WORDS;

export const CAUSE_WORDS: Record<CauseId, string> = {
  water: "water",
  tuning: "tuning",
  nozzle: "nozzle or feed",
  bed: "bed and first layer",
  aged: "aged or poor filament",
  cooling: "cooling",
};

/** What to do next where the cause was something else. */
export const CAUSE_STEPS: Record<CauseId, string> = {
  water: "Dry the spool, then print the same file again.",
  tuning:
    "Go back to the settings of the last good print, then change one thing at a time: retraction, heat, speed.",
  nozzle:
    "Do a cold pull, look at the nozzle’s bore, and check the feed gear for dust. If in doubt, change the nozzle.",
  bed: "Clean and level the bed, set the first layer’s height again, and check the bed’s real temperature.",
  aged: "Print the same file from another spool of this material. Drying does not restore aged filament.",
  cooling:
    "Check that the part fan turns and its duct is clear, slow down the overhangs, and lower the temperature a little.",
};

const isCause = (id: string): id is CauseId => id in CAUSE_WORDS;

/** What to do next about the other cause that a verdict names; "" where it names none. */
export const nextSteps = (cause: string): string => (isCause(cause) ? CAUSE_STEPS[cause] : "");

interface CheckWords {
  name: string;
  how: string;
  caution?: string;
}

export const CHECK_WORDS: Record<CheckId, CheckWords> = {
  ask: { name: "Remember what changed", how: "No tools needed: four questions about the last few days." },
  look: {
    name: "Look at the print closely",
    how: "Light from the side shows more than light from above. Note what you do not see, too: it counts.",
  },
  push: {
    name: "Push filament through; listen and look",
    how: "Heat the nozzle as for printing, lift it, and push filament through by hand, a centimetre in ten seconds. Fan off, ear close, but keep your face away.",
    caution: "The nozzle and what comes out of it burn skin. Ventilate: hot plastic gives off fumes.",
  },
  snap: {
    name: "Bend the cold filament",
    how: "Take it from well inside the winding: the outer turn has been exposed longest.",
    caution: "Ends fly off when it snaps: turn your eyes away.",
  },
  break: { name: "Break the print between its layers", how: "A thin wall or a scrap will do." },
  caliper: {
    name: "Measure ten points of purged filament",
    how: "Purge about 20 cm into the air, let it cool, and measure its diameter at ten places. Darre compares how much it varies, not the mean.",
  },
  swap: {
    name: "Print the same file from a dry spool",
    how: "The same file, not a new slice. Change the spool and nothing else.",
  },
  weigh: { name: "Weigh, dry, weigh", how: "What it loses shows how wet it was when you printed." },
  after_drying: {
    name: "Dry it, then print the same file again",
    how: "The same file and settings as before. Change the water and nothing else.",
  },
};

export const FEATURE_WORDS: Record<FeatureId, string> = {
  strings: "strings",
  blobs: "blobs",
  walls: "walls",
  overhangs: "overhangs",
  bridges: "bridges",
  top: "top surface",
  corners: "corners and text",
  first_layer: "first layer",
  sound: "sound",
  strength: "strength",
};

export const VERDICT_WORDS: Record<VerdictKind, { name: string; note: string }> = {
  water: { name: "It was the water", note: "the fault goes away when the filament is dry" },
  water_and_other: {
    name: "The water, and something else",
    note: "some of it goes away with drying; name the rest",
  },
  wet_not_cause: { name: "Wet, not the cause", note: "there was water, but it did not cause this" },
  other: { name: "Something else", note: "name it; the verdict lists the next steps" },
  no_finding: { name: "No finding", note: "we can’t tell; the thresholds stay as they are" },
};

/** A chance in plain words: "9 chances in 10", "98 chances in 100". */
export function chances(p: number): string {
  if (p >= 0.995) return "over 99 chances in 100";
  if (p < 0.005) return "under 1 chance in 100";
  if (p > 0.95 || p < 0.05) {
    const count = Math.round(100 * p);
    return `${count} ${count === 1 ? "chance" : "chances"} in 100`;
  }
  const count = Math.min(9, Math.max(1, Math.round(10 * p)));
  return `${count} ${count === 1 ? "chance" : "chances"} in 10`;
}

/** The same without the word: "9 in 10". */
export const inTen = (p: number): string => chances(p).replace(/ chances?/, "");

const LEAN_WORDS: Record<CaseEvidence["in_words"], string> = {
  surely: "Almost surely the water",
  probably: "Probably the water",
  rather: "More likely the water than not",
  open: "It may or may not be the water",
  rather_not: "More likely not the water",
  probably_not: "Probably not the water",
  surely_not: "Almost surely not the water",
};

/** Was it the water? While a case is open by the evidence, once closed by its verdict. */
export function caseSentence(evidence: CaseEvidence, verdict: CaseRow["verdict"]): string {
  if (verdict === null) return `${LEAN_WORDS[evidence.in_words]}: ${chances(evidence.p_water)}.`;
  return verdictSentence(verdict);
}

export function verdictSentence(verdict: { kind: VerdictKind; cause: string }): string {
  const cause = isCause(verdict.cause) ? CAUSE_WORDS[verdict.cause] : "";
  switch (verdict.kind) {
    case "water":
      return "It was the water.";
    case "water_and_other":
      return `It was the water, and something else: ${cause}.`;
    case "wet_not_cause":
      return "Wet, but the water was not the cause.";
    case "other":
      return `Not the water: ${cause}.`;
    case "no_finding":
      return "No finding: it could not be settled.";
  }
}

/** What the first bar stands for. */
export function startWords(evidence: CaseEvidence, short: string): string {
  if (evidence.trouble_pct === null) return `${short} takes up too little water to matter`;
  if (evidence.moisture_assumed) return `moisture unknown: typical for ${short} assumed`;
  return `${short}, above its trouble threshold: ${inTen(evidence.p_wet)}`;
}

export const bitsWords = (bits: number): string =>
  `${bits < 0 ? "" : "+"}${fixed(bits, Math.abs(bits) < 9.95 ? 1 : 0)}`;

/** What most of the verdict rests on; null while nothing was looked for. */
export function restsOn(evidence: CaseEvidence): string | null {
  const most = [...evidence.weights].sort(
    (a, b) => Math.abs(evidence.p_water - b.p_without) - Math.abs(evidence.p_water - a.p_without),
  )[0];
  if (!most || Math.abs(most.p_without - evidence.p_water) < 0.02) return null;
  const name = isSign(most.sign) ? SIGN_WORDS[most.sign].name.toLowerCase() : most.text;
  return `The strongest evidence is “${name}”: without it, ${inTen(most.p_without)}.`;
}

/** How far the table itself may be off. */
export function tableRange(evidence: CaseEvidence): string {
  const [low, high] = [inTen(evidence.low), inTen(evidence.high)];
  return `Allowing for errors in the table’s estimates: ${low === high ? `still ${low}` : `${low} to ${high}`}.`;
}

/** The sentence over the list. */
export function casesSentence(rows: readonly CaseRow[]): string {
  const open = rows.filter((row) => row.verdict === null);
  const first = open[0];
  if (!first) {
    return rows.length === 0
      ? "No bad print is open. Press B when the next one happens."
      : "No case is open.";
  }
  if (open.length > 1) return `${open.length} cases are open.`;
  return `One case is open: ${first.case.title}. ${LEAN_WORDS[first.evidence.in_words]}, ${inTen(first.evidence.p_water)}.`;
}

/** The order of the walk: what needs no tool first, what needs hours last. */
export const WALK: readonly CheckId[] = [
  "ask",
  "look",
  "snap",
  "push",
  "break",
  "caliper",
  "swap",
  "after_drying",
];

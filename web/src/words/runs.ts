import type { RunSheet, Verdict } from "../api/client";
import { massPlusMinus } from "../format/quantities";
import { aboutHours, percent, plusMinus, scaleDecimals, span } from "../format/numbers";

type Told = Pick<RunSheet, "verdict" | "run"> & { now_h?: number };

const stillIn = (verdict: Verdict) => `${span(verdict.moisture.p05, verdict.moisture.p95)} % is left`;

function unjudgedSentence(state: "no_weigh_in" | "no_weigh_out", ended: boolean, left: number): string {
  if (state === "no_weigh_in") {
    return ended
      ? "Ended, and never weighed: nothing is known of it."
      : "Not weighed in: the scale cannot judge this run.";
  }
  if (ended) return "Ended without a weigh-out: only the forecast is known.";
  if (left <= 0) return "The planned time is over. Weigh it out.";
  return `Weighed in; ${aboutHours(left)} of the planned time left.`;
}

/** The sentence that answers: is it done? */
export function runSentence({ verdict, run, now_h }: Told): string {
  const ended = run.ended_at !== null;
  const aim = `${percent(run.aim_pct)} %`;
  switch (verdict.state) {
    case "no_weigh_in":
    case "no_weigh_out":
      return unjudgedSentence(verdict.state, ended, run.duration_h - (now_h ?? 0));
    case "no_finding":
      return verdict.body_g.value > 0
        ? "No finding: the card body alone may account for it."
        : "No finding: the change is too small for this scale.";
    case "gained":
      return "It gained mass: it took up water, or something else hangs on the scale.";
    case "not_water":
      return "It lost more than water: more than this plastic can hold.";
    case "no_fit":
      return "These weigh-ins do not fit one another. Check what hung on the scale.";
    case "dry":
      return `Dry: at or under the ${aim} that prints clean.`;
    case "going":
      return ended
        ? `Not dry yet: ${stillIn(verdict)}; ${aim} prints clean.`
        : `Not dry yet: ${stillIn(verdict)}. Keep going.`;
  }
}

/** "17.5 ± 0.2 g out, 2.22 ± 0.03 % of the plastic", with no more digits than the scale gives. */
export function lossLine(verdict: Verdict, resolution: number): string | null {
  const { loss } = verdict;
  if (!loss) return null;
  const digits = scaleDecimals(resolution);
  const out = massPlusMinus(loss.mass_g.value, loss.mass_g.plus_minus, digits);
  const card = loss.strand_g.value !== loss.mass_g.value;
  const share = plusMinus(loss.dry_basis_pct.value, loss.dry_basis_pct.plus_minus, 2);
  return card
    ? `${out} out, of which the card may own ${massPlusMinus(verdict.body_g.value, verdict.body_g.plus_minus, 0)}`
    : `${out} out, ${share} % of the dry plastic`;
}

/** A word for a run's state, for lists. */
export const STATE_WORDS: Record<Verdict["state"], string> = {
  no_weigh_in: "not weighed",
  no_weigh_out: "no weigh-out",
  no_finding: "no finding",
  gained: "gained mass",
  not_water: "not only water",
  no_fit: "does not fit",
  dry: "dry",
  going: "not dry yet",
};

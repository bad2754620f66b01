import type { CaseFacts } from "../../api/client";
import { percent } from "../../domain/numbers";

type Thresholds = NonNullable<NonNullable<CaseFacts["thresholds"]>["now"]>;

/** How the trouble threshold moves: "0.45 → 0.53 %". */
export const thresholdMove = (before: Thresholds, after: Thresholds): string =>
  percent(before.trouble_pct) === percent(after.trouble_pct)
    ? `stays at ${percent(before.trouble_pct)} %`
    : `${percent(before.trouble_pct)} → ${percent(after.trouble_pct)} %`;

/** What a closed case changed in its material's thresholds. */
export function thresholdLine(short: string, verdict: NonNullable<CaseFacts["verdict"]>): string {
  const { thresholds_before: before, thresholds_after: after } = verdict;
  if (!before || !after) return "";
  return `This case: trouble threshold of ${short} ${
    percent(before.trouble_pct) === percent(after.trouble_pct) ? "" : "moved: "
  }${thresholdMove(before, after)}, clean threshold ${percent(before.clean_pct)} → ${percent(after.clean_pct)} %.`;
}

import type { CasePage } from "../api/client";
import { percent } from "../format/numbers";

type Marks = NonNullable<NonNullable<CasePage["marks"]>["now"]>;

/** How the trouble mark moves: "0.45 → 0.53 %". */
export const markMove = (before: Marks, after: Marks): string =>
  percent(before.trouble_pct) === percent(after.trouble_pct)
    ? `stays at ${percent(before.trouble_pct)} %`
    : `${percent(before.trouble_pct)} → ${percent(after.trouble_pct)} %`;

/** What a closed case made of its material's marks. */
export function marksLine(short: string, verdict: NonNullable<CasePage["verdict"]>): string {
  const { marks_before: before, marks_after: after } = verdict;
  if (!before || !after) return "";
  return `By it the trouble mark of ${short} ${
    percent(before.trouble_pct) === percent(after.trouble_pct) ? "" : "moved: "
  }${markMove(before, after)}, the clean mark ${percent(before.clean_pct)} → ${percent(after.clean_pct)} %.`;
}

import { scaleLinear } from "d3-scale";
import type { CaseEvidence } from "../../api/client";

/** One bar of the evidence: from where the last one ended to where it ends, in bits of the odds of water. */
export interface Bar {
  key: string;
  from: number;
  to: number;
}

/** The bars in order, each beginning where the last one ended; the first is where the case starts. */
export function barsOf(evidence: CaseEvidence): Bar[] {
  const bars: Bar[] = [{ key: "start", from: 0, to: evidence.start_bits }];
  for (const [index, weight] of evidence.weights.entries()) {
    const from = bars[index]?.to ?? 0;
    bars.push({ key: weight.sign === "" ? weight.text : weight.sign, from, to: from + weight.bits });
  }
  return bars;
}

const bitsOf = (p: number): number => Math.log2(p / (1 - p));

/** Chances that are named on the axis. */
const NAMED = [
  { p: 0.001, name: "1 in 1000" },
  { p: 0.01, name: "1 in 100" },
  { p: 0.1, name: "1 in 10" },
  { p: 0.5, name: "even" },
  { p: 0.9, name: "9 in 10" },
  { p: 0.99, name: "99 in 100" },
  { p: 0.999, name: "999 in 1000" },
] as const;

/** The scale from bits to pixels, wide enough for every bar and for 9 in 10 either way, and its named chances. */
export function barScale(bars: readonly Bar[], width: number, pad: number) {
  const ends = bars.flatMap((bar) => [bar.from, bar.to]);
  const low = Math.min(bitsOf(0.12), ...ends);
  const high = Math.max(bitsOf(0.88), ...ends);
  const x = scaleLinear([low, high], [pad, width - pad]);
  const all = NAMED.map((named) => ({ ...named, at: bitsOf(named.p) })).filter(
    (named) => named.at >= low && named.at <= high,
  );
  // Names that would run into each other give way, those nearest to even last.
  const kept: typeof all = [];
  for (const named of [...all].sort((a, b) => Math.abs(a.at) - Math.abs(b.at))) {
    if (kept.every((other) => Math.abs(x(other.at) - x(named.at)) > 74)) kept.push(named);
  }
  return { x, named: kept };
}

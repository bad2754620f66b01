import type { ScaleLinear } from "d3-scale";

/** A few values of the upright axis, written left of it. */
export function ValueTicks({ y, left }: { y: ScaleLinear<number, number>; left: number }) {
  return y.ticks(3).map((value) => (
    <text key={value} x={left - 8} y={y(value) + 4} textAnchor="end" className="fill-muted num text-xs">
      {value}
    </text>
  ));
}

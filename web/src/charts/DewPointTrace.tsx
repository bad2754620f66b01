import { extent } from "d3-array";
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";

interface Props {
  dew: number[];
  measured: boolean[];
  now: number;
  start: number;
  stepH: number;
  width: number;
  height: number;
  label: string;
}

const HOUR = 3_600_000;

/** The room's dew point: what was measured as a line, what was filled or is expected dashed. */
export function DewPointTrace({ dew, measured, now, start, stepH, width, height, label }: Props) {
  const to = start + (dew.length - 1) * stepH * HOUR;
  const x = scaleLinear([start, to], [0, width]);
  const [low = 0, high = 1] = extent(dew);
  const y = scaleLinear([low - 1, high + 1], [height - 4, 4]);
  const of = (seen: boolean) =>
    line<number>()
      .defined((_, at) => (measured[at] ?? false) === seen || ((measured[at - 1] ?? false) === seen && !seen))
      .x((_, at) => x(start + at * stepH * HOUR))
      .y((value) => y(value));
  return (
    <svg width={width} height={height} role="img" aria-label={label} className="block">
      <path d={of(true)(dew) ?? ""} fill="none" className="stroke-ink" strokeWidth="1.5" />
      <path
        d={of(false)(dew) ?? ""}
        fill="none"
        className="stroke-muted"
        strokeWidth="1.5"
        strokeDasharray="4 3"
      />
      <line x1={x(now)} x2={x(now)} y2={height} className="stroke-ink" strokeWidth="2" />
    </svg>
  );
}

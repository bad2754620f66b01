import { scaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import type { Holding } from "../api/client";
import { when } from "../domain/times";
import { useWidth } from "./useWidth";
import { ValueTicks } from "./ValueTicks";

const HEIGHT = 230;
const PAD = { left: 44, right: 12, top: 8, bottom: 22 };

/** Relative humidity in a container: two weeks back, two ahead with what may come in. */
export function HumidityChart({ holding, now, label }: { holding: Holding; now: Date; label: string }) {
  const { ref, width } = useWidth<HTMLDivElement>(620);
  const times = holding.at.map((at) => new Date(at).getTime());
  const from = times[0] ?? 0;
  const to = times.at(-1) ?? 1;
  const known = [...holding.rh_course, ...holding.rh_high].filter((value) => value !== null);
  const top = Math.max(20, ...known) * 1.1;
  const x = scaleLinear([from, to], [PAD.left, width - PAD.right]);
  const y = scaleLinear([0, Math.min(top, 100)], [HEIGHT - PAD.bottom, PAD.top]);
  const at = (index: number) => x(times[index] ?? 0);
  const course = (past: boolean) =>
    line<number | null>()
      .defined((value, index) => value !== null && (times[index] ?? 0) <= now.getTime() + 21_600_000 === past)
      .x((_, index) => at(index))
      .y((value) => y(value ?? 0));
  const band = area<number | null>()
    .defined((value, index) => value !== null && (holding.rh_high[index] ?? null) !== null)
    .x((_, index) => at(index))
    .y0((value) => y(value ?? 0))
    .y1((_, index) => y(holding.rh_high[index] ?? 0));
  return (
    <div ref={ref}>
      <svg width={width} height={HEIGHT} role="img" aria-label={label} className="block overflow-visible">
        <rect
          x={PAD.left}
          y={PAD.top}
          width={Math.max(width - PAD.left - PAD.right, 0)}
          height={HEIGHT - PAD.top - PAD.bottom}
          className="fill-ground"
        />
        <ValueTicks y={y} left={PAD.left} />
        {[from, now.getTime(), to].map((moment, index) => (
          <text
            key={index}
            x={x(moment)}
            y={HEIGHT - 6}
            textAnchor={index === 0 ? "start" : index === 1 ? "middle" : "end"}
            className={index === 1 ? "fill-ink text-xs font-bold" : "fill-muted num text-xs"}
          >
            {index === 1 ? "now" : when(new Date(moment), now)}
          </text>
        ))}
        <path d={band(holding.rh_low) ?? ""} className="fill-band" />
        <path d={course(true)(holding.rh_course) ?? ""} fill="none" className="stroke-ink" strokeWidth="2" />
        <path
          d={course(false)(holding.rh_course) ?? ""}
          fill="none"
          className="stroke-ink"
          strokeWidth="1.5"
          strokeDasharray="4 3"
        />
        <line
          x1={x(now.getTime())}
          x2={x(now.getTime())}
          y1={PAD.top}
          y2={HEIGHT - PAD.bottom}
          className="stroke-ink"
        />
      </svg>
    </div>
  );
}

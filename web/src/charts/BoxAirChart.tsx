import { max } from "d3-array";
import { scaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import type { RunAir } from "../api/client";
import { useWidth } from "./useWidth";

const HEIGHT = 150;
const PAD = { left: 44, right: 12, top: 8, bottom: 6 };

interface Props {
  air: RunAir;
  label: string;
  /** Hours after the start at the right edge: that of the chart above. */
  endH: number;
}

/** Water in the box air against the room's, g/m³; the area between is what is carried out. */
export function BoxAirChart({ air, label, endH }: Props) {
  const { ref, width } = useWidth<HTMLDivElement>(700);
  const points = air.time_h.map((time, at) => ({
    time,
    inside: air.inside_g_m3[at] ?? 0,
    room: air.room_g_m3[at] ?? 0,
    seen: !air.gaps.some(([from]) => from === time),
  }));
  const top = (max(points, (p) => Math.max(p.inside, p.room)) ?? 1) * 1.1;
  const x = scaleLinear([0, endH], [PAD.left, width - PAD.right]);
  const y = scaleLinear([0, top], [HEIGHT - PAD.bottom, PAD.top]);
  const between = area<(typeof points)[number]>()
    .defined((p) => p.seen)
    .x((p) => x(p.time))
    .y0((p) => y(p.room))
    .y1((p) => y(p.inside));
  const of = (name: "inside" | "room") =>
    line<(typeof points)[number]>()
      .defined((p) => p.seen)
      .x((p) => x(p.time))
      .y((p) => y(p[name]));
  const last = points.at(-1);
  return (
    <div ref={ref}>
      <svg width={width} height={HEIGHT} role="img" aria-label={label} className="block overflow-visible">
        <rect
          x={PAD.left}
          y={PAD.top}
          width={Math.max(width - PAD.left - PAD.right, 0)}
          height={HEIGHT - PAD.top - PAD.bottom}
          className="fill-paper"
        />
        <path d={between(points) ?? ""} className="fill-band" />
        <path
          d={of("room")(points) ?? ""}
          fill="none"
          className="stroke-ink"
          strokeWidth="1.5"
          strokeDasharray="5 3"
        />
        <path d={of("inside")(points) ?? ""} fill="none" className="stroke-ink" strokeWidth="2" />
        {y.ticks(3).map((value) => (
          <text
            key={value}
            x={PAD.left - 8}
            y={y(value) + 4}
            textAnchor="end"
            className="fill-muted num text-xs"
          >
            {value}
          </text>
        ))}
        {last && (
          <>
            <text x={x(last.time) + 6} y={y(last.inside) + 2} className="halo fill-ink text-[13px]">
              box
            </text>
            <text x={x(last.time) + 6} y={y(last.room) + 14} className="halo fill-muted text-[13px]">
              room
            </text>
          </>
        )}
      </svg>
    </div>
  );
}

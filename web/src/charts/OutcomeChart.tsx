import { max } from "d3-array";
import { scaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import { percent } from "../domain/numbers";
import { settle } from "./labels";
import { useWidth } from "./useWidth";

const HEIGHT = 260;
const PAD = { left: 44, right: 190, top: 10, bottom: 26 };

interface OutcomeCourse {
  key: string;
  name: string;
  pct: number[];
  sd: number[];
}

interface Props {
  label: string;
  courses: OutcomeCourse[];
  /** How each point is written on the axis. */
  ticks: string[];
  clean: number | null;
  trouble: number | null;
  /** The one whose band is shown. */
  chosen: string;
}

const DASHES = ["", "7 3", "3 3", "1 3", "9 3 2 3"];

/** What would become of a spool by each choice, side by side. */
export function OutcomeChart({ label, courses, ticks, clean, trouble, chosen }: Props) {
  const { ref, width } = useWidth<HTMLDivElement>(900);
  const right = width < 560 ? 12 : PAD.right;
  const count = ticks.length;
  const top = (max(courses.flatMap((it) => it.pct)) ?? 1) * 1.12;
  const x = scaleLinear([0, count - 1], [PAD.left, width - right]);
  const y = scaleLinear([0, top], [HEIGHT - PAD.bottom, PAD.top]).nice(5);
  const band = courses.find((it) => it.key === chosen);
  const shape = line<number>()
    .x((_, at) => x(at))
    .y((value) => y(value));
  const doubt = area<number>()
    .x((_, at) => x(at))
    .y0((value, at) => y(Math.max(value - 1.645 * (band?.sd[at] ?? 0), 0)))
    .y1((value, at) => y(Math.min(value + 1.645 * (band?.sd[at] ?? 0), y.domain()[1] ?? top)));
  const inside = { x: width - right, y: 0, width: right, height: HEIGHT };
  const taken: { x: number; y: number; width: number; height: number }[] = [];
  const named = [...courses]
    .sort((a, b) => (b.pct.at(-1) ?? 0) - (a.pct.at(-1) ?? 0))
    .map((it) => {
      const at = y(it.pct.at(-1) ?? 0);
      const places = [0, 16, -16, 32, -32, 48, -48].map((by) => ({
        x: width - right + 6,
        y: at - 8 + by,
        width: right - 6,
        height: 16,
      }));
      return { it, place: settle(places, taken, inside) };
    });
  return (
    <div ref={ref}>
      <svg width={width} height={HEIGHT} role="img" aria-label={label} className="block overflow-visible">
        <rect
          x={PAD.left}
          y={PAD.top}
          width={Math.max(width - PAD.left - right, 0)}
          height={HEIGHT - PAD.top - PAD.bottom}
          className="fill-paper"
        />
        {y.ticks(4).map((value) => (
          <text
            key={value}
            x={PAD.left - 8}
            y={y(value) + 4}
            textAnchor="end"
            className="fill-muted num text-xs"
          >
            {y.tickFormat(4)(value)}
          </text>
        ))}
        {ticks.map((name, at) =>
          at % Math.ceil(count / Math.max(2, Math.floor(width / 150))) === 0 ? (
            <text key={at} x={x(at)} y={HEIGHT - 8} textAnchor="middle" className="fill-muted num text-xs">
              {name}
            </text>
          ) : null,
        )}
        {band && <path d={doubt(band.pct) ?? ""} className="fill-band" />}
        {clean !== null && (
          <>
            <line
              x1={PAD.left}
              x2={width - right}
              y1={y(clean)}
              y2={y(clean)}
              className="stroke-ink"
              strokeDasharray="2 4"
            />
            <text x={PAD.left + 6} y={y(clean) - 4} className="halo fill-ink text-xs">
              prints clean
            </text>
          </>
        )}
        {trouble !== null && trouble < (y.domain()[1] ?? 0) && (
          <>
            <line
              x1={PAD.left}
              x2={width - right}
              y1={y(trouble)}
              y2={y(trouble)}
              className="stroke-heat"
              strokeDasharray="6 3"
            />
            <text x={PAD.left + 6} y={y(trouble) - 4} className="halo fill-heat text-xs">
              trouble threshold
            </text>
          </>
        )}
        {courses.map((it, at) => (
          <path
            key={it.key}
            d={shape(it.pct) ?? ""}
            fill="none"
            className="stroke-ink"
            strokeWidth={it.key === chosen ? 2.5 : 1.5}
            strokeDasharray={DASHES[at % DASHES.length]}
          />
        ))}
        {right > 20 &&
          named.map(({ it, place }) =>
            place ? (
              <text key={it.key} x={place.x} y={place.y + 12} className="fill-ink text-[13px]">
                {it.name} <tspan className="num font-bold">{percent(it.pct.at(-1) ?? 0)} %</tspan>
              </text>
            ) : null,
          )}
      </svg>
    </div>
  );
}

import { max } from "d3-array";
import { scaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import { percent } from "../domain/numbers";
import { settle } from "./labels";
import type { Frame, Mark } from "./course";
import { MarkLines, Names } from "./courseLayers";
import { namesOf } from "./courseNames";
import { useWidth } from "./useWidth";

const HEIGHT = 260;
const PAD = { left: 44, right: 206, top: 10, bottom: 26 };

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
  const top = (max(courses.flatMap((course) => course.pct)) ?? 1) * 1.12;
  const x = scaleLinear([0, count - 1], [PAD.left, width - right]);
  const y = scaleLinear([0, top], [HEIGHT - PAD.bottom, PAD.top]).nice(5);
  const band = courses.find((course) => course.key === chosen);
  const shape = line<number>()
    .x((_, at) => x(at))
    .y((value) => y(value));
  const doubt = area<number>()
    .x((_, at) => x(at))
    .y0((value, at) => y(Math.max(value - 1.645 * (band?.sd[at] ?? 0), 0)))
    .y1((value, at) => y(Math.min(value + 1.645 * (band?.sd[at] ?? 0), y.domain()[1] ?? top)));
  const frame: Frame = {
    ...{ left: PAD.left, right: width - right, top: PAD.top, bottom: HEIGHT - PAD.bottom },
    ...{ x, y },
  };
  const marks: Mark[] = [
    ...(clean === null ? [] : [{ at: clean, name: "prints clean", kind: "clean" as const }]),
    ...(trouble === null ? [] : [{ at: trouble, name: "trouble threshold", kind: "trouble" as const }]),
  ];
  const curves = courses.map((course) =>
    course.pct.map((pct, time) => ({ time, mean: pct, low: pct, high: pct })),
  );
  const inside = { x: width - right, y: 0, width: right, height: HEIGHT };
  const taken: { x: number; y: number; width: number; height: number }[] = [];
  const named = [...courses]
    .sort((a, b) => (b.pct.at(-1) ?? 0) - (a.pct.at(-1) ?? 0))
    .map((course) => {
      const at = y(course.pct.at(-1) ?? 0);
      const places = [0, 16, -16, 32, -32, 48, -48].map((by) => ({
        x: width - right + 6,
        y: at - 8 + by,
        width: right - 6,
        height: 16,
      }));
      return { course, place: settle(places, taken, inside) };
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
        <MarkLines frame={frame} marks={marks} />
        {courses.map((course, at) => (
          <path
            key={course.key}
            d={shape(course.pct) ?? ""}
            fill="none"
            className="stroke-ink"
            strokeWidth={course.key === chosen ? 2.5 : 1.5}
            strokeDasharray={DASHES[at % DASHES.length]}
          />
        ))}
        <Names names={namesOf(frame, { curves, seen: [], marks, moments: [] })} />
        {right > 20 &&
          named.map(({ course, place }) =>
            place ? (
              <text key={course.key} x={place.x} y={place.y + 12} className="fill-ink text-[13px]">
                {course.name} <tspan className="num font-bold">{percent(course.pct.at(-1) ?? 0)} %</tspan>
              </text>
            ) : null,
          )}
      </svg>
    </div>
  );
}

import { extent } from "d3-array";
import { scaleLinear, type ScaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import type { RunAir } from "../api/client";
import { tempUnit, toTemp } from "../domain/units";
import { useWidth } from "./useWidth";
import { ValueTicks } from "./ValueTicks";

const PAD = { left: 44, right: 12, top: 22, bottom: 4 };
const ENDS_PX = 70; // so far from the right edge a line's name still fits behind its end

export interface TypedAir {
  /** Hours after the start. */
  time: number;
  temp_c: number;
  rh_pct: number;
}

type Air = Pick<
  RunAir,
  "time_h" | "temp_c" | "rh_pct" | "heat_alone_pct" | "inside_g_m3" | "room_g_m3" | "gaps"
>;

interface Props {
  air: Air;
  label: string;
  /** Whose air it is. */
  where?: string;
  /** The air that was planned at the spool, °C; none where it was not planned. */
  planned_c: number | null;
  typed: readonly TypedAir[];
  /** Hours after the start at the right edge: that of the chart above. */
  endH: number;
}

/** Three traces over one another, by the same hours: how warm the air is, how humid by its heat, and its water. */
export function BoxAirChart({ air, label, where = "air beside the spool", planned_c, typed, endH }: Props) {
  const { ref, width } = useWidth<HTMLDivElement>(700);
  const x = scaleLinear([0, endH], [PAD.left, width - PAD.right]);
  const seen = air.time_h.map((time) => !air.gaps.some(([from]) => from === time));
  const shared = { x, width, time: air.time_h, seen };
  return (
    <div ref={ref} role="img" aria-label={label} className="mt-2 flex flex-col gap-1">
      <Trace
        {...shared}
        title={`${where}, ${tempUnit()}`}
        height={100}
        lines={[{ values: air.temp_c.map(toTemp), name: "" }]}
        {...(planned_c !== null && { level: { value: toTemp(planned_c), name: "planned" } })}
        dots={typed.map(({ time, temp_c }) => ({ time, value: toTemp(temp_c) }))}
      />
      <Trace
        {...shared}
        title="relative humidity, %; dashed: by heat alone"
        height={100}
        lines={[
          { values: air.rh_pct, name: "box" },
          { values: air.heat_alone_pct, name: "heat alone", dashed: true },
        ]}
        dots={typed.map(({ time, rh_pct }) => ({ time, value: rh_pct }))}
        fromZero
      />
      <Trace
        {...shared}
        title="water in the air, g/m³: what lies between is carried out"
        height={130}
        lines={[
          { values: air.inside_g_m3, name: "box" },
          { values: air.room_g_m3, name: "room", dashed: true },
        ]}
        fromZero
        between
      />
    </div>
  );
}

interface Line {
  values: readonly number[];
  name: string;
  dashed?: boolean;
}

interface TraceProps {
  title: string;
  height: number;
  x: ScaleLinear<number, number>;
  width: number;
  time: readonly number[];
  seen: readonly boolean[];
  lines: readonly Line[];
  level?: { value: number; name: string };
  dots?: readonly { time: number; value: number }[];
  fromZero?: boolean;
  /** Whether what lies between the two lines is filled. */
  between?: boolean;
}

function Trace(props: TraceProps) {
  const { title, height, x, width, time, seen, lines, level, dots = [], fromZero = false } = props;
  const all = [...lines.flatMap(({ values }) => values), ...dots.map(({ value }) => value)];
  const [least = 0, most = 1] = extent(level ? [...all, level.value] : all);
  const y = scaleLinear(
    [fromZero ? 0 : least - 2, most + (fromZero ? 0.08 * most : 2)],
    [height - PAD.bottom, PAD.top],
  );
  const shape = line<number>()
    .defined((_, at) => seen[at] ?? false)
    .x((_, at) => x(time[at] ?? 0))
    .y((value) => y(value));
  const last = time.length - 1;
  const right = x(time[last] ?? 0);
  return (
    <svg width={width} height={height} aria-hidden="true" className="block overflow-visible">
      <text x={PAD.left} y={14} className="fill-muted text-xs">
        {title}
      </text>
      <rect
        x={PAD.left}
        y={PAD.top}
        width={Math.max(width - PAD.left - PAD.right, 0)}
        height={height - PAD.top - PAD.bottom}
        className="fill-paper"
      />
      {props.between && <Between {...props} y={y} />}
      {level && <Level level={level} y={y} width={width} />}
      {lines.map(({ values, dashed, name }) => (
        <path
          key={name}
          d={shape([...values]) ?? ""}
          fill="none"
          className="stroke-ink"
          strokeWidth={dashed ? 1.5 : 2}
          strokeDasharray={dashed ? "5 3" : undefined}
        />
      ))}
      {dots.map((dot, n) => (
        <circle key={n} cx={x(dot.time)} cy={y(dot.value)} r={4} className="fill-paper stroke-ink" />
      ))}
      <ValueTicks y={y} left={PAD.left} />
      {right < width - ENDS_PX &&
        namesAt(lines, last, y).map(({ name, at }) => (
          <text key={name} x={right + 6} y={at} className="halo fill-ink text-[13px]">
            {name}
          </text>
        ))}
    </svg>
  );
}

/** Where the lines' names stand behind their ends, one over the other where the ends lie close. */
function namesAt(lines: readonly Line[], last: number, y: ScaleLinear<number, number>) {
  const ends = lines
    .filter(({ name }) => name !== "")
    .map(({ name, values }) => ({ name, at: y(values[last] ?? 0) + 4 }))
    .sort((a, b) => a.at - b.at);
  const [upper, lower] = ends;
  if (upper && lower && lower.at - upper.at < 14) return [upper, { ...lower, at: upper.at + 14 }];
  return ends;
}

/** What lies between the first line and the second. */
function Between({ lines, seen, time, x, y }: TraceProps & { y: ScaleLinear<number, number> }) {
  const [first, second] = lines;
  const shape = area<number>()
    .defined((_, at) => seen[at] ?? false)
    .x((_, at) => x(time[at] ?? 0))
    .y0((_, at) => y(second?.values[at] ?? 0))
    .y1((value) => y(value));
  return <path d={shape([...(first?.values ?? [])]) ?? ""} className="fill-band" />;
}

function Level({
  level,
  y,
  width,
}: {
  level: NonNullable<TraceProps["level"]>;
  y: ScaleLinear<number, number>;
  width: number;
}) {
  const [at, right] = [y(level.value), width - PAD.right];
  return (
    <>
      <line x1={PAD.left} x2={right} y1={at} y2={at} className="stroke-muted" strokeDasharray="1 3" />
      <text x={right - 4} y={at + 14} textAnchor="end" className="halo fill-muted text-[13px]">
        {level.name}
      </text>
    </>
  );
}

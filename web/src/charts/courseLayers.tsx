import { area, line } from "d3-shape";
import type { CoursePoint, Frame, Mark, Moment, Seen } from "./course";
import { marksInside, type PlacedName } from "./courseNames";

const MARK_STYLE = {
  clean: { line: "stroke-ink", text: "fill-ink", dash: "2 4" },
  trouble: { line: "stroke-heat", text: "fill-heat", dash: "6 3" },
  floor: { line: "stroke-muted", text: "fill-muted", dash: "1 3" },
};

export function Axes({ frame, tick }: { frame: Frame; tick: (hours: number) => string }) {
  const { x, y, left, right, top, bottom } = frame;
  const write = y.tickFormat(5);
  return (
    <>
      <rect x={left} y={top} width={right - left} height={bottom - top} className="fill-paper" />
      {y.ticks(5).map((value) => (
        <g key={value}>
          <line x1={left} x2={right} y1={y(value)} y2={y(value)} className="stroke-line" />
          <text x={left - 8} y={y(value)} dy="0.35em" textAnchor="end" className="fill-muted num text-xs">
            {write(value)}
          </text>
        </g>
      ))}
      {x.ticks(Math.max(3, Math.floor((right - left) / 110))).map((value) => (
        <text key={value} x={x(value)} y={bottom + 18} textAnchor="middle" className="fill-muted num text-xs">
          {tick(value)}
        </text>
      ))}
    </>
  );
}

export function Band({ frame: { x, y }, course }: { frame: Frame; course: CoursePoint[] }) {
  const shape = area<CoursePoint>()
    .x((p) => x(p.time))
    .y0((p) => y(p.low))
    .y1((p) => y(p.high));
  return <path d={shape(course) ?? ""} className="fill-band" />;
}

export function Curve({
  frame: { x, y },
  course,
  thin,
}: {
  frame: Frame;
  course: CoursePoint[];
  thin?: boolean;
}) {
  const shape = line<CoursePoint>()
    .x((p) => x(p.time))
    .y((p) => y(p.mean));
  return (
    <path
      d={shape(course) ?? ""}
      fill="none"
      className={thin ? "stroke-muted" : "stroke-ink"}
      strokeWidth={thin ? 1.5 : 2}
      strokeDasharray={thin ? "5 4" : undefined}
    />
  );
}

export function MarkLines({ frame, marks }: { frame: Frame; marks: Mark[] }) {
  const { left, right, y } = frame;
  return marksInside(frame, marks).map((mark) => (
    <line
      key={mark.kind}
      x1={left}
      x2={right}
      y1={y(mark.at)}
      y2={y(mark.at)}
      className={MARK_STYLE[mark.kind].line}
      strokeWidth="1.5"
      strokeDasharray={MARK_STYLE[mark.kind].dash}
    />
  ));
}

export function MomentLines({ frame, moments }: { frame: Frame; moments: Moment[] }) {
  const { x, top, bottom } = frame;
  return moments.map((moment) => (
    <line
      key={moment.name}
      x1={x(moment.at)}
      x2={x(moment.at)}
      y1={top}
      y2={bottom}
      className="stroke-ink"
      strokeWidth={moment.strong ? 2 : 1}
      strokeDasharray={moment.strong ? undefined : "3 3"}
    />
  ));
}

const NAME_STYLE = { ...MARK_STYLE, moment: { text: "fill-ink font-bold" }, curve: { text: "fill-muted" } };

/** What the lines are called, each name where it covers nothing. */
export function Names({ names }: { names: PlacedName[] }) {
  return names.map(({ text, kind, box }) => (
    <text key={text} x={box.x} y={box.y + 13} className={`halo ${NAME_STYLE[kind].text} text-[13px]`}>
      {text}
    </text>
  ));
}

export function SeenPoints({ frame: { x, y }, seen }: { frame: Frame; seen: Seen[] }) {
  return seen.map((point) => (
    <g key={point.time} className="stroke-ink" strokeWidth="1.5">
      <line
        x1={x(point.time)}
        x2={x(point.time)}
        y1={y(Math.max(0, point.moisture - point.plusMinus))}
        y2={y(point.moisture + point.plusMinus)}
      />
      <path
        d="M0-6 6 0 0 6-6 0Z"
        transform={`translate(${x(point.time)} ${y(point.moisture)})`}
        className="fill-paper"
      />
    </g>
  ));
}

export function Hand({ frame: { x, y, top, bottom }, point }: { frame: Frame; point: CoursePoint }) {
  return (
    <g>
      <line x1={x(point.time)} x2={x(point.time)} y1={top} y2={bottom} className="stroke-muted" />
      <circle cx={x(point.time)} cy={y(point.mean)} r="4" className="fill-ink" />
    </g>
  );
}

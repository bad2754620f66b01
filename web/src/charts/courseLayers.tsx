import { bisectCenter } from "d3-array";
import { area, line } from "d3-shape";
import type { CoursePoint, Frame, Mark, Moment, Seen } from "./course";

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

interface CurveNameProps {
  frame: Frame;
  course: CoursePoint[];
  /** The course that is drawn beside it: the name stands on the far side of it. */
  main: CoursePoint[];
  name: string;
}

/** The name of a curve, near its beginning and clear of the course beside it. */
export function CurveName({ frame, course, main, name }: CurveNameProps) {
  const at = (frame.x.domain()[1] ?? 0) * 0.12;
  const point = nearest(course, at);
  const other = nearest(main, at);
  if (!point) return null;
  const above = point.mean >= (other?.mean ?? 0);
  return (
    <text
      x={frame.x(point.time) + (above ? 6 : -6)}
      y={frame.y(point.mean) + (above ? -6 : 16)}
      textAnchor={above ? "start" : "end"}
      className="halo fill-muted text-[13px]"
    >
      {name}
    </text>
  );
}

function nearest(course: CoursePoint[], at: number): CoursePoint | undefined {
  return course[
    bisectCenter(
      course.map((point) => point.time),
      at,
    )
  ];
}

export function Marks({ frame, marks }: { frame: Frame; marks: Mark[] }) {
  const { left, right, y } = frame;
  const top = y.domain()[1] ?? 0;
  // The lowest mark has its name below its line, the others above, so that two that lie close stay readable.
  const lowest = Math.min(...marks.map((mark) => mark.at));
  return marks
    .filter((mark) => mark.at <= top)
    .map((mark) => {
      const style = MARK_STYLE[mark.kind];
      return (
        <g key={mark.kind}>
          <line
            x1={left}
            x2={right}
            y1={y(mark.at)}
            y2={y(mark.at)}
            className={style.line}
            strokeWidth="1.5"
            strokeDasharray={style.dash}
          />
          <text
            x={right - 6}
            y={y(mark.at) + (mark.at === lowest ? 14 : -5)}
            textAnchor="end"
            className={`halo ${style.text} text-[13px]`}
          >
            {mark.name}
          </text>
        </g>
      );
    });
}

export function Moments({ frame, moments }: { frame: Frame; moments: Moment[] }) {
  const { x, top, bottom, right } = frame;
  return moments.map((moment) => {
    const late = x(moment.at) > right - 110;
    return (
      <g key={moment.name}>
        <line
          x1={x(moment.at)}
          x2={x(moment.at)}
          y1={top}
          y2={bottom}
          className="stroke-ink"
          strokeWidth={moment.strong ? 2 : 1}
          strokeDasharray={moment.strong ? undefined : "3 3"}
        />
        <text
          x={x(moment.at) + (late ? -6 : 6)}
          y={top + 14}
          textAnchor={late ? "end" : "start"}
          className="halo fill-ink text-[13px] font-bold"
        >
          {moment.name}
        </text>
      </g>
    );
  });
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

import type { ScaleTime } from "d3-scale";
import { useId, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { ScheduledStart } from "../../api/client";
import { laneFrame, shapes, stops, type TracePoint } from "../../charts/laneTrace";
import { hours } from "../../domain/numbers";
import { temp } from "../../domain/quantities";
import { when } from "../../domain/times";
import { labelWidth, noteOf } from "./scene";

const HOUR = 3_600_000;
const QUARTER = HOUR / 4;
const TALL = 24;
const LABEL = 14;
const MOVED_PX = 4;

interface Props {
  start: ScheduledStart;
  x: ScaleTime<number, number>;
  y: number;
  now: Date;
  onMove: (wish: number, dryer: number, at: Date) => void;
  onPick: (wish: number) => void;
}

/** A run as its own falling waterline. It can be dragged, or moved by the arrow keys and kept there with Enter. */
export function RunBar({ start, x, y, now, onMove, onPick }: Props) {
  const id = useId();
  const [shift, setShift] = useState(0);
  const [held, setHeld] = useState<number | null>(null);
  const begin = Date.parse(start.starts_at) + shift;
  const end = Date.parse(start.ends_at) + shift;
  const left = x(begin);
  const width = Math.max(x(end) - left, 3);
  const fixed = start.wish === null || start.run !== null;

  const keep = () => {
    const at = new Date(Math.max(begin, now.getTime()));
    setShift(0);
    if (start.wish !== null && shift !== 0) onMove(start.wish, start.dryer, at);
    else if (start.wish !== null) onPick(start.wish);
  };
  const press = (event: KeyboardEvent) => {
    const step = event.shiftKey ? 4 * HOUR : QUARTER;
    if (event.key === "ArrowRight") setShift(shift + step);
    else if (event.key === "ArrowLeft") setShift(shift - step);
    else if (event.key === "Enter" || event.key === " ") keep();
    else if (event.key === "Escape") setShift(0);
    else return;
    event.preventDefault();
  };
  const grab = (event: PointerEvent<SVGGElement>) => {
    if (event.pointerType === "touch") return;
    event.currentTarget.setPointerCapture(event.pointerId);
    setHeld(event.clientX);
  };
  const drag = (event: PointerEvent) => {
    if (held === null) return;
    const span = Math.abs(event.clientX - held) < MOVED_PX ? 0 : event.clientX - held;
    const moved = x.invert(x(Date.parse(start.starts_at)) + span).getTime() - Date.parse(start.starts_at);
    setShift(Math.round(moved / QUARTER) * QUARTER);
  };
  const drop = () => {
    if (held === null) return;
    setHeld(null);
    keep();
  };
  const said = `${start.spool_name}, ${temp(start.temp_c)}, from ${when(new Date(begin), now)} to ${when(new Date(end), now)}, ${hours(start.hours)}${start.late_h > 0 ? `, ${hours(start.late_h)} late` : ""}${start.pinned ? ", pinned" : ""}`;
  const body = (
    <>
      <title>{said}</title>
      <Waterline start={start} id={id} left={left} top={y + LABEL} width={width} />
      {start.taken_out_at !== null && (
        <line
          x1={left + width}
          x2={Math.max(x(Date.parse(start.taken_out_at) + shift), left + width)}
          y1={y + LABEL + TALL - 1}
          y2={y + LABEL + TALL - 1}
          className="stroke-muted"
          strokeDasharray="2 3"
        />
      )}
    </>
  );
  const words = (
    <g className="pointer-events-none">
      <BarLabel
        start={start}
        left={left}
        width={width}
        y={y}
        right={x.range()[1] ?? 0}
        now={now}
        moved={shift !== 0 ? new Date(begin) : null}
      />
      <Flag start={start} x={x} y={y} />
    </g>
  );
  if (fixed)
    return (
      <g>
        {body}
        {words}
      </g>
    );
  return (
    <>
      <g
        role="button"
        tabIndex={0}
        aria-label={`${said}. Arrow keys move it, Enter keeps it there.`}
        className="cursor-grab focus-visible:outline-3"
        onKeyDown={press}
        onPointerDown={grab}
        onPointerMove={drag}
        onPointerUp={drop}
        onBlur={() => {
          setShift(0);
        }}
      >
        <rect x={left} y={y} width={width} height={LABEL + TALL} fill="transparent" />
        {body}
      </g>
      {words}
    </>
  );
}

interface LineProps {
  start: ScheduledStart;
  id: string;
  left: number;
  top: number;
  width: number;
}

function Waterline({ start, id, left, top, width }: LineProps) {
  const trouble = start.trouble_pct ?? 1;
  const points: TracePoint[] = start.course_pct.map((value, at) => ({
    at: at / Math.max(start.course_pct.length - 1, 1),
    share: value / trouble,
  }));
  const frame = laneFrame(
    { width, height: TALL },
    [0, 1],
    points.map((point) => point.share),
  );
  const { fill, edge } = shapes(frame, points);
  return (
    <g transform={`translate(${left} ${top})`}>
      <linearGradient id={`${id}water`} gradientUnits="userSpaceOnUse" x1="0" x2={width} y1="0" y2="0">
        {stops(frame, points).map((colour, at) => (
          <stop key={at} offset={colour.at} stopColor={colour.colour} />
        ))}
      </linearGradient>
      <path d={fill} fill={`url(#${id}water)`} />
      <path d={edge} fill="none" className="stroke-ink" strokeWidth="1.5" />
      <line x2={width} y1={TALL} y2={TALL} className="stroke-ink" strokeWidth={start.run === null ? 1 : 3} />
    </g>
  );
}

interface LabelProps {
  start: ScheduledStart;
  left: number;
  width: number;
  y: number;
  right: number;
  now: Date;
  moved: Date | null;
}

function BarLabel({ start, left, y, right, now, moved }: LabelProps) {
  const note = moved === null ? noteOf(start, now) : `from ${when(moved, now)}`;
  const at = Math.max(Math.min(left, right - labelWidth(start, now)), 0);
  return (
    <text x={at} y={y + 11} fontSize="13" className="halo fill-ink">
      <tspan fontWeight="700">{start.spool_name}</tspan>
      <tspan fontSize="12" className={start.late_h > 0 && moved === null ? "fill-heat" : "fill-muted"}>
        {" "}
        {note}
      </tspan>
    </text>
  );
}

/** The time that it is wanted by. */
function Flag({ start, x, y }: { start: ScheduledStart; x: ScaleTime<number, number>; y: number }) {
  if (start.ready_by === null) return null;
  const at = x(Date.parse(start.ready_by));
  const ink = start.late_h > 0 ? "stroke-heat fill-heat" : "stroke-ink fill-ink";
  return (
    <g className={ink}>
      <line x1={at} x2={at} y1={y + LABEL + 3} y2={y + LABEL + TALL} strokeWidth="1.5" />
      <path d={`M${at} ${y + LABEL + 3}l9 3.5l-9 3.5z`} />
      <title>{`${start.spool_name} is wanted by then`}</title>
    </g>
  );
}

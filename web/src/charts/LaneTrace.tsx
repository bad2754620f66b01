import { useId } from "react";
import type { Traced } from "../api/client";
import { percent } from "../domain/numbers";
import { between, laneFrame, shapes, stops, type TracePoint } from "./laneTrace";

interface Props {
  traced: Traced;
  start: number;
  stepH: number;
  now: number;
  width: number;
  height: number;
}

const HOUR = 3_600_000;
const OPEN_KINDS: readonly string[] = ["shelf", "printer"];

/** A spool's moisture through time: past filled, future dashed, places as texture, weighings as dots. */
export function LaneTrace({ traced, start, stepH, now, width, height }: Props) {
  const id = useId();
  const { lane, pct, stays, runs, weighed } = traced;
  const to = start + (pct.length - 1) * stepH * HOUR;
  const trouble = lane.trouble_pct ?? 1;
  const points: TracePoint[] = pct.map((value, at) => ({
    at: start + at * stepH * HOUR,
    share: value === null ? null : value / trouble,
  }));
  const here: TracePoint = { at: now, share: lane.moisture.value / trouble };
  const frame = laneFrame(
    { width, height },
    [start, to],
    [...points.map((point) => point.share), here.share],
  );
  const past = [...between(points, start, now), here];
  const future = [here, ...between(points, now + 1, to)];
  const [was, will] = [shapes(frame, past), shapes(frame, future)];
  const colours = stops(frame, [...past, ...future.slice(1)]);
  const { x, y } = frame;
  const clean = lane.clean_pct === null ? null : lane.clean_pct / trouble;
  const label =
    lane.trouble_pct === null
      ? "takes up too little water to matter"
      : `${percent(lane.moisture.value)} % now, clean below ${percent(lane.clean_pct ?? 0)} %, trouble above ${percent(trouble)} %`;
  return (
    <svg width={width} height={height} role="img" aria-label={label} className="block">
      <defs>
        <linearGradient id={`${id}water`} gradientUnits="userSpaceOnUse" x1="0" x2={width} y1="0" y2="0">
          {colours.map((colour, at) => (
            <stop key={at} offset={colour.at} stopColor={colour.colour} />
          ))}
        </linearGradient>
        <pattern id={`${id}sealed`} width="7" height="7" patternUnits="userSpaceOnUse">
          <circle cx="2" cy="2" r="1" className="fill-line" />
        </pattern>
        <pattern
          id={`${id}warm`}
          width="7"
          height="7"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="3" height="7" className="fill-heat" opacity="0.28" />
        </pattern>
      </defs>
      {stays.map((stay) => {
        const left = Math.max(x(new Date(stay.since).getTime()), 0);
        const right = stay.until === null ? width : Math.min(x(new Date(stay.until).getTime()), width);
        if (OPEN_KINDS.includes(stay.place_kind) || right <= left) return null;
        const fill = stay.place_kind === "warm_box" ? "warm" : "sealed";
        return (
          <rect key={stay.id} x={left} width={right - left} height={height} fill={`url(#${id}${fill})`} />
        );
      })}
      <path d={was.fill} fill={`url(#${id}water)`} />
      <path d={will.fill} fill={`url(#${id}water)`} opacity="0.45" />
      {runs.map((run) => {
        const left = Math.max(x(new Date(run.started_at).getTime()), 0);
        const end = run.ended_at
          ? new Date(run.ended_at).getTime()
          : new Date(run.started_at).getTime() + run.end_h * HOUR;
        return (
          <rect
            key={run.id}
            x={left}
            width={Math.max(Math.min(x(end), width) - left, 0)}
            height={height}
            fill={`url(#${id}warm)`}
          />
        );
      })}
      <path d={was.edge} fill="none" className="stroke-ink" strokeWidth="1.5" />
      <path d={will.edge} fill="none" className="stroke-ink" strokeWidth="1.5" strokeDasharray="4 3" />
      {clean !== null && (
        <line x2={width} y1={y(clean)} y2={y(clean)} className="stroke-ink" strokeDasharray="2 4" />
      )}
      {lane.trouble_pct !== null && (
        <line
          x2={width}
          y1={y(1)}
          y2={y(1)}
          className="stroke-heat"
          strokeWidth="1.5"
          strokeDasharray="6 3"
        />
      )}
      {weighed.map((mark) => (
        <circle
          key={mark.at}
          cx={x(new Date(mark.at).getTime())}
          cy={y(mark.moisture_pct / trouble)}
          r="3.5"
          className="fill-paper stroke-ink"
          strokeWidth="1.5"
        />
      ))}
      <line x1={x(now)} x2={x(now)} y2={height} className="stroke-ink" strokeWidth="2" />
    </svg>
  );
}

import { line } from "d3-shape";
import { type MapFrame, tempTicks } from "./dryingMap";

/** A zone of temperatures not to go into, from one temperature on up or down. */
export interface Zone {
  from: number;
  side: "above" | "below";
  name: string;
  /** Harm is hatched in red; what the dryer just cannot do, in ink. */
  harm: boolean;
}

export interface Contour {
  name: string;
  hours: readonly (number | null)[];
  kind: "clean" | "trouble" | "own" | "co_dried";
}

export interface RingMark {
  name: string;
  temp: number;
  hours: number;
}

export function MapAxes({ frame }: { frame: MapFrame }) {
  const { x, left, bottom, right } = frame;
  return (
    <>
      {tempTicks(frame).map(({ celsius, label }) => (
        <text
          key={label}
          x={left - 8}
          y={frame.y(celsius)}
          dy="0.35em"
          textAnchor="end"
          className="fill-muted num text-xs"
        >
          {label}
        </text>
      ))}
      {x.ticks(Math.max(3, Math.floor((right - left) / 80))).map((value) => (
        <text key={value} x={x(value)} y={bottom + 16} textAnchor="middle" className="fill-muted num text-xs">
          {value}
        </text>
      ))}
    </>
  );
}

/** The zones' hatches and edges. Only the first harm is hatched: what lies above it lies in it. */
export function Zones({ frame, zones }: { frame: MapFrame; zones: readonly Zone[] }) {
  const { left, right, top, bottom, y } = frame;
  const place = (temp: number) => Math.min(Math.max(y(temp), top), bottom);
  return (
    <>
      <defs>
        <pattern id="harm" width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="9" height="9" className="fill-paper/40" />
          <line x1="0" x2="0" y1="0" y2="9" className="stroke-heat" strokeWidth="4" />
        </pattern>
        <pattern id="beyond" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1="0" x2="0" y1="0" y2="7" className="stroke-ink" strokeWidth="1" />
        </pattern>
      </defs>
      {zones.map((zone) => {
        const edge = place(zone.from);
        const above = zone.side === "above";
        return (
          <g key={`${zone.name} ${zone.from}`}>
            <rect
              x={left}
              width={right - left}
              y={above ? top : edge}
              height={Math.max(above ? edge - top : bottom - edge, 0)}
              fill={zone.harm ? "url(#harm)" : "url(#beyond)"}
              opacity={zone.harm ? 0.75 : 0.45}
            />
            <line
              x1={left}
              x2={right}
              y1={edge}
              y2={edge}
              className={zone.harm ? "stroke-heat" : "stroke-ink"}
              strokeWidth="1.5"
              strokeDasharray={zone.harm ? undefined : "8 4"}
            />
          </g>
        );
      })}
    </>
  );
}

const CONTOURS = {
  clean: { width: 2.5, dash: undefined, tone: "stroke-map-ink" },
  trouble: { width: 1.5, dash: "3 4", tone: "stroke-map-ink" },
  own: { width: 2, dash: "10 4", tone: "stroke-map-ink" },
  co_dried: { width: 2, dash: "2 5", tone: "stroke-map-ink" },
};

export function Contours({
  frame,
  temps,
  contours,
}: {
  frame: MapFrame;
  temps: readonly number[];
  contours: readonly Contour[];
}) {
  const { x, y } = frame;
  const shape = line<[number, number | null]>()
    .defined(([, hours]) => hours !== null)
    .x(([, hours]) => x(hours ?? 0))
    .y(([temp]) => y(temp));
  return contours.map((contour) => {
    const { width, dash, tone } = CONTOURS[contour.kind];
    const points = temps.map((temp, row): [number, number | null] => [temp, contour.hours[row] ?? null]);
    return (
      <path
        key={contour.name}
        d={shape(points) ?? ""}
        fill="none"
        className={tone}
        strokeWidth={width}
        strokeDasharray={dash}
      />
    );
  });
}

export function Turns({ frame, turns }: { frame: MapFrame; turns: readonly number[] }) {
  const { x, top, bottom } = frame;
  return turns.map((hours) => (
    <line
      key={hours}
      x1={x(hours)}
      x2={x(hours)}
      y1={top}
      y2={bottom}
      className="stroke-map-ink"
      strokeDasharray="1 5"
      strokeWidth="1.5"
    />
  ));
}

/** Under this line the room's air stops the drying short of the aim. */
export function FloorLine({ frame, from }: { frame: MapFrame; from: number }) {
  const { left, right, y } = frame;
  return (
    <line
      x1={left}
      x2={right}
      y1={y(from)}
      y2={y(from)}
      className="stroke-map-ink"
      strokeDasharray="1 4"
      strokeWidth="2"
    />
  );
}

export function Levels({ frame, levels }: { frame: MapFrame; levels: readonly number[] }) {
  return levels.map((level) => (
    <line
      key={level}
      x1={frame.left}
      x2={frame.right}
      y1={frame.y(level)}
      y2={frame.y(level)}
      className="stroke-map-ink"
      strokeWidth="1"
    />
  ));
}

export function RingMarks({ frame, rings }: { frame: MapFrame; rings: readonly RingMark[] }) {
  return rings.map((ring) => (
    <circle
      key={ring.name}
      cx={frame.x(ring.hours)}
      cy={frame.y(ring.temp)}
      r="7"
      className="fill-paper/70 stroke-map-ink"
      strokeWidth="2"
    />
  ));
}

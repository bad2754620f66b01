import { line } from "d3-shape";
import { bareTemp } from "../format/quantities";
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
  kind: "clean" | "trouble" | "own" | "company";
}

export interface RingMark {
  name: string;
  temp: number;
  hours: number;
}

const LABEL_H = 18;

/** Words on the map, on a plate of paper so that they read on any water colour. */
function Plate(props: { x: number; y: number; text: string; end?: boolean; harm?: boolean; bold?: boolean }) {
  const { x, y, text, end = false, harm = false, bold = false } = props;
  const width = text.length * 6.7 + 12;
  return (
    <g transform={`translate(${end ? x - width : x} ${y})`}>
      <rect width={width} height={LABEL_H} className="fill-paper" />
      <text
        x={6}
        y={13}
        textLength={undefined}
        className={`text-[13px] ${harm ? "fill-heat" : "fill-ink"} ${harm || bold ? "font-bold" : ""}`}
      >
        {text}
      </text>
    </g>
  );
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

/** The zones' names at their edges, kept apart where edges lie close; those off the map stand at its edge. */
export function ZoneNames({ frame, zones }: { frame: MapFrame; zones: readonly Zone[] }) {
  const { left, right, top, bottom, y } = frame;
  let last = Number.POSITIVE_INFINITY;
  return [...zones]
    .sort((a, b) => a.from - b.from)
    .map((zone) => {
      const text = `${zone.name}${zone.from > 0 ? `, ${bareTemp(zone.from)}°` : ""}`;
      if (zone.side === "below") {
        const at = Math.min(y(zone.from) + 4, bottom - LABEL_H - 2);
        if (y(zone.from) >= bottom - 2) return null;
        return <Plate key={text} x={left + 8} y={at} text={text} />;
      }
      if (y(zone.from) < top + 2) return null;
      const at = Math.max(Math.min(y(zone.from) - LABEL_H - 4, last - LABEL_H - 3), top + 2);
      last = at;
      return zone.harm ? (
        <Plate key={text} x={left + 8} y={at} text={text} harm />
      ) : (
        <Plate key={text} x={right - 8} y={at} text={text} end />
      );
    });
}

const CONTOURS = {
  clean: { width: 2.5, dash: undefined, tone: "stroke-map-ink" },
  trouble: { width: 1.5, dash: "3 4", tone: "stroke-map-ink" },
  own: { width: 2, dash: "10 4", tone: "stroke-map-ink" },
  company: { width: 2, dash: "2 5", tone: "stroke-map-ink" },
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

/** Where a contour's name stands along its rows, as a share from the coolest: apart from the others. */
const NAME_AT = { clean: 0.32, trouble: 0.2, own: 0.5, company: 0.62 };

export function ContourNames({
  frame,
  temps,
  contours,
}: {
  frame: MapFrame;
  temps: readonly number[];
  contours: readonly Contour[];
}) {
  return contours.map((contour) => {
    const rows = temps.flatMap((temp, row) => {
      const hours = contour.hours[row];
      return hours === null || hours === undefined || hours === 0 ? [] : [{ temp, hours }];
    });
    const at = rows[Math.floor(rows.length * NAME_AT[contour.kind])];
    if (!at) return null;
    const late = frame.x(at.hours) > frame.right - contour.name.length * 7 - 24;
    return (
      <text
        key={contour.name}
        x={frame.x(at.hours) + (late ? -8 : 8)}
        y={frame.y(at.temp) + 4}
        textAnchor={late ? "end" : "start"}
        className="fill-map-ink text-[13px] font-bold"
      >
        {contour.name}
      </text>
    );
  });
}

export function Turns({ frame, turns }: { frame: MapFrame; turns: readonly number[] }) {
  const { x, top, bottom } = frame;
  return turns.map((hours, index) => (
    <g key={hours}>
      <line
        x1={x(hours)}
        x2={x(hours)}
        y1={top}
        y2={bottom}
        className="stroke-map-ink"
        strokeDasharray="1 5"
        strokeWidth="1.5"
      />
      {index === 0 && (
        <text x={x(hours) + 5} y={bottom - 6} className="fill-map-ink text-xs">
          one timer turn
        </text>
      )}
    </g>
  ));
}

export function FloorLine({ frame, from, name }: { frame: MapFrame; from: number | null; name: string }) {
  const { left, right, top, bottom, y } = frame;
  if (from === null) return <Plate x={left + 8} y={bottom - LABEL_H - 26} text={name} />;
  if (y(from) > bottom - 2 || y(from) < top) return null;
  return (
    <g>
      <line
        x1={left}
        x2={right}
        y1={y(from)}
        y2={y(from)}
        className="stroke-map-ink"
        strokeDasharray="1 4"
        strokeWidth="2"
      />
      <text x={right - 8} y={y(from) + 15} textAnchor="end" className="fill-map-ink text-[13px]">
        {name}
      </text>
    </g>
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
  const { x, y, left, right, top, bottom } = frame;
  return rings
    .filter((ring) => x(ring.hours) <= right && y(ring.temp) >= top && y(ring.temp) <= bottom)
    .map((ring) => {
      const late = x(ring.hours) > right - 70;
      return (
        <g key={ring.name} transform={`translate(${Math.max(x(ring.hours), left)} ${y(ring.temp)})`}>
          <circle r="7" className="fill-paper/70 stroke-map-ink" strokeWidth="2" />
          <text
            x={late ? -12 : 12}
            y="4"
            textAnchor={late ? "end" : "start"}
            className="fill-map-ink text-[13px]"
          >
            {ring.name}
          </text>
        </g>
      );
    });
}

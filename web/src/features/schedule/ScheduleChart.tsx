import { useId } from "react";
import type { Schedule } from "../../api/client";
import { settle, textWidth, type Box } from "../../charts/labels";
import { clock, when } from "../../domain/times";
import { hours } from "../../domain/numbers";
import { bareTemp } from "../../domain/quantities";
import { gaps, midnights, NAMES_WIDTH, ROW, TOP, type Band, type Scene, visitPlaces } from "./scene";
import { RunBar } from "./RunBar";
import { visitInShort, visitWords } from "./words";

const dayFormat = new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric" });

interface Props {
  data: Schedule;
  scene: Scene;
  width: number;
  working: boolean;
  /** A run was moved to another moment: it is to stay there. */
  onMove: (wish: number, dryer: number, at: Date) => void;
  onPick: (wish: number) => void;
}

/** The coming days: a band a dryer, each run its own falling waterline; below, the line for the hands. */
export function ScheduleChart({ data, scene, width, working, onMove, onPick }: Props) {
  const id = useId();
  const now = new Date(data.now);
  const { x, from, to, bands, hands, height } = scene;
  return (
    <svg
      width={width}
      height={height}
      role="group"
      aria-label="The coming days, a band a dryer"
      aria-busy={working}
      className="block select-none"
    >
      <defs>
        <pattern id={`${id}away`} width="6" height="6" patternUnits="userSpaceOnUse">
          <circle cx="1.5" cy="1.5" r="0.9" className="fill-muted" opacity="0.55" />
        </pattern>
      </defs>
      {bands.map((band) => (
        <BandGround key={band.dryer.id} band={band} width={width} />
      ))}
      {bands.map(({ dryer, y, height: tall }) =>
        gaps(data, from, to).map(([begin, end]) => (
          <rect
            key={`${dryer.id} ${begin}`}
            x={x(begin)}
            width={Math.max(x(end) - x(begin), 0)}
            y={y}
            height={tall}
            fill={`url(#${id}away)`}
          />
        )),
      )}
      <Days scene={scene} now={now} />
      {bands.map((band) =>
        band.rows.map(({ start, row }) => (
          <RunBar
            key={start.spool}
            start={start}
            x={x}
            y={band.y + 4 + row * ROW}
            now={now}
            onMove={onMove}
            onPick={onPick}
          />
        )),
      )}
      <Hands data={data} scene={scene} now={now} />
      <line x1={x(now)} x2={x(now)} y1={TOP - 4} y2={hands + 8} className="stroke-ink" strokeWidth="2" />
      <text x={x(now) + 4} y={TOP - 10} fontSize="12" fontWeight="700" className="fill-ink">
        now
      </text>
    </svg>
  );
}

function BandGround({ band, width }: { band: Band; width: number }) {
  const { dryer, y, height } = band;
  const words = [
    `holds ${dryer.slots}`,
    ...(dryer.timer_max_h === null ? [] : [`timer ${hours(dryer.timer_max_h)}`]),
    ...(dryer.never_alone ? ["never left alone"] : []),
    `${bareTemp(dryer.min_c)} to ${bareTemp(dryer.max_c)}°`,
  ];
  return (
    <g>
      <rect width={width} y={y} height={height} className="fill-paper" />
      <text x="10" y={y + 20} fontSize="14" fontWeight="700" className="fill-ink">
        {dryer.name}
      </text>
      <text x="10" y={y + 37} fontSize="12" className="fill-muted">
        {words.slice(0, 2).join(" · ")}
      </text>
    </g>
  );
}

function Days({ scene, now }: { scene: Scene; now: Date }) {
  const { x, from, to, hands } = scene;
  const afterNow = x(now) + 4 + textWidth("now", 12, true) + 8; // a day that begins soon stands behind it
  return (
    <g>
      {midnights(from, to).map((at) => (
        <g key={at.getTime()}>
          <line x1={x(at)} x2={x(at)} y1={TOP} y2={hands + 8} className="stroke-line" />
          <text
            x={Math.max(x(at) + 4, afterNow)}
            y={TOP - 10}
            fontSize="13"
            fontWeight="600"
            className="fill-muted"
          >
            {x(at) + 60 < x(to) ? dayFormat.format(at) : ""}
          </text>
        </g>
      ))}
    </g>
  );
}

/** Visits against the hours at home; the cheap hours as a thin bar over them. */
function Hands({ data, scene, now }: { data: Schedule; scene: Scene; now: Date }) {
  const { x, from, to, hands } = scene;
  const inside: Box = { x: NAMES_WIDTH, y: hands - 40, width: x(to) - NAMES_WIDTH, height: 126 };
  const taken: Box[] = [];
  const clipped = (text: string) => x(Math.min(Math.max(Date.parse(text), from), to));
  return (
    <g>
      <text x="10" y={hands + 1} fontSize="14" fontWeight="700" className="fill-ink">
        Your hands
      </text>
      <text x="10" y={hands + 18} fontSize="12" className="fill-muted">
        {data.cheap.length > 0 ? "thick: at home, bar: cheap" : "thick: at home"}
      </text>
      <line x1={NAMES_WIDTH} x2={x(to)} y1={hands} y2={hands} className="stroke-line" strokeWidth="2" />
      {data.at_home.map(({ since, until }) => (
        <line
          key={since}
          x1={clipped(since)}
          x2={clipped(until)}
          y1={hands}
          y2={hands}
          className="stroke-ink"
          strokeWidth="5"
        />
      ))}
      {data.cheap.map(({ since, until }) => (
        <line
          key={since}
          x1={clipped(since)}
          x2={clipped(until)}
          y1={hands - 18}
          y2={hands - 18}
          className="stroke-muted"
          strokeWidth="3"
        />
      ))}
      {data.visits.map((visit) => {
        const at = new Date(visit.at);
        const text = `${clock(at)} ${visitInShort(visit)}`;
        const wide = textWidth(text, 12) + 6;
        const place = settle(visitPlaces(x(at), wide, hands), taken, inside);
        return (
          <g key={visit.at}>
            <title>{`${when(at, now)}: ${visitWords(visit)}`}</title>
            <circle cx={x(at)} cy={hands} r="6" className="fill-paper stroke-ink" strokeWidth="2" />
            {place && (
              <text x={place.x} y={place.y + 11} fontSize="12" className="fill-ink">
                {text}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

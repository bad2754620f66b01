import { memo, useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { percent } from "../domain/numbers";
import { temp } from "../domain/quantities";
import { fromTemp, fromTempStep, toTemp } from "../domain/units";
import {
  coolestThatGetsTo,
  type Field,
  mapFrame,
  type MapFrame,
  moistureAt,
  paint,
  type Point,
} from "./dryingMap";
import {
  type Contour,
  Contours,
  FloorLine,
  Levels,
  MapAxes,
  type RingMark,
  RingMarks,
  Turns,
  type Zone,
  Zones,
} from "./mapLayers";
import { MapNames, PIN_LATE } from "./mapNames";
import { useWidth } from "./useWidth";

export interface MapScene {
  field: Field;
  trouble: number;
  floor: readonly number[];
  aim: number;
  zones: readonly Zone[];
  contours: readonly Contour[];
  turns: readonly number[];
  rings: readonly RingMark[];
  levels: readonly number[];
}

interface Props {
  scene: MapScene;
  pin: Point | null;
  /** What the pin's place means, in one line, from the map alone. */
  onSet: (pin: Point) => void;
}

const TALLEST = 520;
const HOUR_STEP = 0.25;
const REST_MS = 250;

const onMap = ({ x, y, left, right, top, bottom }: MapFrame, { temp: celsius, hours }: Point): boolean =>
  x(hours) >= left && x(hours) <= right && y(celsius) >= top && y(celsius) <= bottom;

interface GroundProps {
  scene: MapScene;
  frame: MapFrame;
  /** Where the pin rests; while it is dragged the names stay where they are. */
  pin: Point | null;
}

/** Everything that a pin does not change while it is dragged. */
const Ground = memo(function Ground({ scene, frame, pin }: GroundProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { field, trouble } = scene;
  useEffect(() => {
    if (canvas.current) paint(canvas.current, field, frame, trouble);
  }, [field, frame, trouble]);
  const floorFrom = coolestThatGetsTo(scene.aim, field.temps, scene.floor);
  const rings = scene.rings.filter((ring) => onMap(frame, ring));
  return (
    <>
      <canvas
        ref={canvas}
        aria-hidden
        className="absolute"
        style={{
          left: frame.left,
          top: frame.top,
          width: frame.right - frame.left,
          height: frame.bottom - frame.top,
        }}
      />
      <svg
        aria-hidden
        width={frame.width}
        height={frame.height}
        className="absolute inset-0 overflow-visible"
      >
        <MapAxes frame={frame} />
        <Turns frame={frame} turns={scene.turns} />
        <Levels frame={frame} levels={scene.levels} />
        <Contours frame={frame} temps={field.temps} contours={scene.contours} />
        <Zones frame={frame} zones={scene.zones} />
        {floorFrom !== null && <FloorLine frame={frame} from={floorFrom} />}
        <RingMarks frame={frame} rings={rings} />
        <MapNames
          frame={frame}
          temps={field.temps}
          zones={scene.zones}
          contours={scene.contours}
          rings={rings}
          turns={scene.turns}
          floorFrom={floorFrom}
          pin={pin}
        />
      </svg>
    </>
  );
});

/** Temperature × hours with one pin, moved by pointer, touch and arrow keys. The map answers; the ticket follows. */
export function DryingMapChart({ scene, pin, onSet }: Props) {
  const { ref, width } = useWidth<HTMLDivElement>(620);
  const { field, levels } = scene;
  const height = Math.min(TALLEST, Math.round(width * 1.1));
  const frame = useMemo(() => mapFrame(field, width, height), [field, width, height]);
  const [held, setHeld] = useState<{ at: Point; over: Point | null } | null>(null);
  const rest = useRef<ReturnType<typeof setTimeout>>(undefined);
  const dragging = useRef(false);
  // A pin that the person holds stands until the ticket has caught up with it.
  const at = held?.over === pin ? held.at : pin;

  function snapped({ temp: celsius, hours }: Point): Point {
    const [cool = 0, hot = 100] = frame.y.domain();
    const end = frame.x.domain()[1] ?? 24;
    const free = Math.min(Math.max(fromTemp(Math.round(toTemp(celsius))), cool), hot);
    return {
      temp:
        levels.length === 0
          ? free
          : levels.reduce((best, level) =>
              Math.abs(level - celsius) < Math.abs(best - celsius) ? level : best,
            ),
      hours: Math.min(Math.max(Math.round(hours / HOUR_STEP) * HOUR_STEP, HOUR_STEP), end),
    };
  }

  function hold(to: Point, settle: boolean) {
    const next = snapped(to);
    setHeld({ at: next, over: pin });
    clearTimeout(rest.current);
    if (settle) {
      rest.current = setTimeout(() => {
        onSet(next);
      }, REST_MS);
    }
    return next;
  }

  function follow(event: PointerEvent<HTMLDivElement>): Point {
    const box = event.currentTarget.getBoundingClientRect();
    return hold(
      { temp: frame.y.invert(event.clientY - box.top), hours: frame.x.invert(event.clientX - box.left) },
      false,
    );
  }

  function press(event: KeyboardEvent) {
    if (!at) return;
    const by = event.shiftKey ? 5 : 1;
    const level = levels.indexOf(at.temp);
    const step = levels.length > 0 ? 0 : fromTempStep(by);
    const moves: Record<string, Point> = {
      ArrowUp: { ...at, temp: levels[level + 1] ?? at.temp + step },
      ArrowDown: { ...at, temp: levels[level - 1] ?? at.temp - step },
      ArrowRight: { ...at, hours: at.hours + by * HOUR_STEP * 2 },
      ArrowLeft: { ...at, hours: at.hours - by * HOUR_STEP * 2 },
    };
    const to = moves[event.key];
    if (!to) return;
    event.preventDefault();
    hold(to, true);
  }

  return (
    <div
      ref={ref}
      className="relative touch-pan-y select-none"
      style={{ height }}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        dragging.current = true;
        follow(event);
      }}
      onPointerMove={(event) => {
        if (dragging.current) follow(event);
      }}
      onPointerUp={(event) => {
        if (!dragging.current) return;
        dragging.current = false;
        onSet(follow(event));
      }}
      onPointerCancel={() => {
        dragging.current = false;
        setHeld(null);
      }}
    >
      <Ground scene={scene} frame={frame} pin={pin} />
      {at && <Pin frame={frame} at={at} moisture={moistureAt(field, at)} aim={scene.aim} onKeyDown={press} />}
    </div>
  );
}

interface PinProps {
  frame: MapFrame;
  at: Point;
  moisture: number;
  aim: number;
  onKeyDown: (event: KeyboardEvent) => void;
}

function Pin({ frame, at, moisture, aim, onKeyDown }: PinProps) {
  const { x, y, left, bottom, right } = frame;
  const [px, py] = [Math.min(x(at.hours), right), y(at.temp)];
  const [cool = 0, hot = 100] = y.domain();
  const late = px > right - PIN_LATE;
  const told = `${temp(at.temp)} for ${at.hours} h: ${percent(moisture)} % left`;
  return (
    <>
      <svg
        aria-hidden
        width={frame.width}
        height={frame.height}
        className="pointer-events-none absolute inset-0"
      >
        <path d={`M${left} ${py}H${px}V${bottom}`} fill="none" className="stroke-map-ink" strokeWidth="1.5" />
      </svg>
      <div
        role="slider"
        tabIndex={0}
        aria-label="Pin: air temperature and hours"
        aria-valuemin={Math.round(toTemp(cool))}
        aria-valuemax={Math.round(toTemp(hot))}
        aria-valuenow={Math.round(toTemp(at.temp))}
        aria-valuetext={told}
        aria-describedby="pin-help"
        className="absolute flex size-9 cursor-grab touch-none items-center justify-center rounded-full max-sm:size-11"
        style={{ left: px - 18, top: py - 18 }}
        onKeyDown={onKeyDown}
      >
        <span className="size-5 rounded-full border-[6px] border-[#14201f] bg-[#fbfcfa]" />
      </div>
      <output
        className="pointer-events-none absolute bg-[#14201f] px-2 py-0.5 num text-[15px] font-bold text-[#fbfcfa]"
        style={late ? { right: frame.width - px + 16, top: py - 13 } : { left: px + 16, top: py - 13 }}
      >
        {percent(moisture)} %
        <span className="font-sans text-[13px] font-normal">
          {" "}
          {moisture <= aim * 1.005 ? "clean" : ""} at {temp(at.temp)}, {at.hours} h
        </span>
      </output>
    </>
  );
}

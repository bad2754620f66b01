import { range } from "d3-array";
import { bareTemp } from "../domain/quantities";
import type { MapFrame } from "./dryingMap";
import { type Box, settle, textWidth } from "./labels";
import type { Contour, RingMark, Zone } from "./mapLayers";

const SIZE = 13;
const HEIGHT = 18;
const PAD = 6;
/** Room beside a ring for the pin's value, which stands there when the ring is chosen. */
const PIN_ROOM = 190;
/** So near the right edge the pin's value stands on its left. */
export const PIN_LATE = 130;
const STEP = 40;

interface Name {
  key: string;
  text: string;
  places: Box[];
  tone: "plain" | "strong" | "harm" | "plate";
}

interface Props {
  frame: MapFrame;
  temps: readonly number[];
  zones: readonly Zone[];
  contours: readonly Contour[];
  rings: readonly RingMark[];
  turns: readonly number[];
  floorFrom: number | null;
  /** Where the pin rests: its lines and its value are kept clear of names. */
  pin: { temp: number; hours: number } | null;
}

const isPlate = (tone: Name["tone"]) => tone === "harm" || tone === "plate";
const isBold = (tone: Name["tone"]) => tone === "harm" || tone === "strong";

const sized = (text: string, tone: Name["tone"]) => ({
  width: textWidth(text, SIZE, isBold(tone)) + PAD * 2,
  height: HEIGHT,
});

function zoneName({ frame }: Props, zone: Zone): Name[] {
  const { left, right, top, bottom, y } = frame;
  const edge = y(zone.from);
  if (edge < top + 2 || edge > bottom - 2) return [];
  const tone = zone.harm ? "harm" : "plate";
  const text = `${zone.name}${zone.from > 0 ? `, ${bareTemp(zone.from)}°` : ""}`;
  const size = sized(text, tone);
  const heights =
    zone.side === "below"
      ? [edge + 4, edge - HEIGHT - 4]
      : [edge - HEIGHT - 3, edge - 2 * HEIGHT - 6, edge - 3 * HEIGHT - 9, edge + 4];
  const places = heights.flatMap((at) => [
    { x: left + 8, y: at, ...size },
    { x: right - 8 - size.width, y: at, ...size },
  ]);
  return [{ key: text, text, tone, places }];
}

function ringName({ frame }: Props, ring: RingMark): Name {
  const size = sized(ring.name, "plain");
  const [x, y] = [frame.x(ring.hours), frame.y(ring.temp)];
  const places = [
    { x: x + 8, y: y - HEIGHT / 2, ...size },
    { x: x - 8 - size.width, y: y - HEIGHT / 2, ...size },
    { x: x - size.width / 2, y: y + 10, ...size },
    { x: x - size.width / 2, y: y - 10 - HEIGHT, ...size },
    ...[y + 3, y - 3 - HEIGHT].flatMap((at) => [
      { x: x + 6, y: at, ...size },
      { x: x - 6 - size.width, y: at, ...size },
    ]),
  ];
  return { key: ring.name, text: ring.name, tone: "plain", places };
}

/** Along its line, from two thirds of the way up downwards, then the rest; beside it to the right or the left. */
function contourName({ frame, temps }: Props, contour: Contour): Name {
  const size = sized(contour.name, "strong");
  const rows = temps.flatMap((temp, row) => {
    const hours = contour.hours[row];
    return hours ? [{ x: frame.x(hours), y: frame.y(temp) }] : [];
  });
  const from = Math.floor(rows.length * 0.35);
  const ordered = [...rows.slice(from), ...rows.slice(0, from).reverse()];
  const places = ordered.flatMap(({ x, y }) => [
    { x: x + 4, y: y - HEIGHT - 2, ...size },
    { x: x - 4 - size.width, y: y + 2, ...size },
  ]);
  return { key: contour.name, text: contour.name, tone: "strong", places };
}

function floorName({ frame, floorFrom }: Props): Name[] {
  const { left, right, top, bottom, y } = frame;
  const nowhere = floorFrom === null;
  const text = nowhere
    ? "this air is too damp to reach the aim at any of these settings"
    : "below this line this air is too damp to reach the aim";
  const tone = nowhere ? "plate" : "plain";
  const size = sized(text, tone);
  const edge = nowhere ? bottom - 2 * HEIGHT - 8 : y(floorFrom);
  if (!nowhere && (edge > bottom - 2 || edge < top)) return [];
  const starts = range(right - 4 - size.width, left + 4, -STEP);
  const places = starts.flatMap((x) => [edge + 3, edge - HEIGHT - 3].map((y) => ({ x, y, ...size })));
  return [{ key: "floor", text, tone, places }];
}

function turnName({ frame, turns }: Props): Name[] {
  const [first] = turns;
  if (first === undefined) return [];
  const text = "one timer turn";
  const size = sized(text, "plain");
  const x = frame.x(first);
  const places = [frame.bottom - HEIGHT - 4, frame.top + 4].flatMap((at) => [
    { x: x + 2, y: at, ...size },
    { x: x - 2 - size.width, y: at, ...size },
  ]);
  return [{ key: "turn", text, tone: "plain", places }];
}

/** The lines that no name should lie on: edges of zones, the floor, and those of the pin with its value. */
function lines({ frame, zones, floorFrom, pin }: Props): Box[] {
  const { left, right, bottom } = frame;
  const across = [...zones.map((zone) => zone.from), ...(floorFrom === null ? [] : [floorFrom])];
  const edges = across.map((at) => ({ x: left, y: frame.y(at) - 1, width: right - left, height: 2 }));
  if (!pin) return edges;
  const [x, y] = [Math.min(frame.x(pin.hours), right), frame.y(pin.temp)];
  const isLate = x > right - PIN_LATE;
  return [
    ...edges,
    { x: left, y: y - 1, width: x - left, height: 2 },
    { x: x - 1, y, width: 2, height: bottom - y },
    { x: x - 12, y: y - 12, width: 24, height: 24 },
    { x: isLate ? x - PIN_ROOM : x, y: y - 14, width: PIN_ROOM, height: 28 },
  ];
}

/** The names on the map, each at its line or ring, kept apart from one another. */
export function MapNames(props: Props) {
  const { frame, zones, contours, rings } = props;
  const inside = {
    x: frame.left,
    y: frame.top,
    width: frame.right - frame.left,
    height: frame.bottom - frame.top,
  };
  const taken: Box[] = [
    ...lines(props),
    ...rings.map((ring) => ({
      x: frame.x(ring.hours) - 9,
      y: frame.y(ring.temp) - 9,
      width: 18,
      height: 18,
    })),
  ];
  const placed: (Name & { box: Box })[] = [];
  const add = (name: Name) => {
    const box = settle(name.places, taken, inside);
    if (box) placed.push({ ...name, box });
  };
  [...zones]
    .sort((a, b) => a.from - b.from)
    .flatMap((zone) => zoneName(props, zone))
    .forEach(add);
  rings.map((ring) => ringName(props, ring)).forEach(add);
  floorName(props).forEach(add);
  turnName(props).forEach(add);
  for (const ring of rings) {
    taken.push({
      x: frame.x(ring.hours),
      y: frame.y(ring.temp) - 14,
      width: PIN_ROOM,
      height: 28,
    });
  }
  contours.map((contour) => contourName(props, contour)).forEach(add);
  return placed.map(({ key, text, tone, box }) => (
    <g key={key} transform={`translate(${box.x} ${box.y})`}>
      {isPlate(tone) && <rect width={box.width} height={box.height} className="fill-paper" />}
      <text
        x={PAD}
        y={13}
        className={`text-[13px] ${tone === "harm" ? "fill-heat" : isPlate(tone) ? "fill-ink" : "fill-map-ink"} ${isBold(tone) ? "font-bold" : ""} ${isPlate(tone) ? "" : "map-halo"}`}
      >
        {text}
      </text>
    </g>
  ));
}

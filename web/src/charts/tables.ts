/** What the charts show, as tables to take along. */
import type { DryingMap, Holding, Rack, RunAir } from "../api/client";
import type { Cell, FileTable } from "../domain/tableFile";
import type { CoursePoint, Seen } from "./course";

const HOUR = 3_600_000;
const HOURS = { name: "hours", means: "hours after the start" };
const iso = (ms: number): string => new Date(ms).toISOString();

export function courseTable(title: string, course: readonly CoursePoint[], seen: readonly Seen[]): FileTable {
  const points = course.map(({ time, mean, low, high }): Cell[] => [time, mean, low, high, null, null]);
  const weighed = seen.map(({ time, moisture, plusMinus }): Cell[] => [
    time,
    null,
    null,
    null,
    moisture,
    plusMinus,
  ]);
  return {
    title,
    columns: [
      HOURS,
      { name: "moisture_pct", means: "water as computed, % of the dry mass" },
      { name: "low_pct", means: "19 cases in 20 lie above" },
      { name: "high_pct", means: "19 cases in 20 lie below" },
      { name: "weighed_pct", means: "water by the scale, % of the dry mass" },
      { name: "weighed_plus_minus_pct", means: "its uncertainty, 19 times in 20" },
    ],
    rows: [...points, ...weighed].sort((one, other) => Number(one[0]) - Number(other[0])),
  };
}

export const mapTable = (map: DryingMap): FileTable => ({
  title: "drying map",
  columns: [
    { name: "temp_c", means: "temperature of the air" },
    { name: "hours", means: "hours of heat" },
    { name: "left_pct", means: "moisture left, % of the dry mass" },
  ],
  rows: map.temps_c.flatMap((temp, at) =>
    map.hours.map((hours, column): Cell[] => [temp, hours, map.moisture_pct[at]?.[column] ?? null]),
  ),
});

export const airTable = (air: RunAir): FileTable => ({
  title: "air in the box",
  columns: [
    HOURS,
    { name: "temp_c", means: "temperature of the box air, °C" },
    { name: "rh_pct", means: "its relative humidity" },
    { name: "heat_alone_pct", means: "relative humidity by heat alone, without a gram leaving" },
    { name: "inside_g_m3", means: "water in the box air" },
    { name: "room_g_m3", means: "water in the room air" },
  ],
  rows: air.time_h.map((time, at): Cell[] => [
    time,
    air.temp_c[at] ?? null,
    air.rh_pct[at] ?? null,
    air.heat_alone_pct[at] ?? null,
    air.inside_g_m3[at] ?? null,
    air.room_g_m3[at] ?? null,
  ]),
});

export const humidityTable = (holding: Holding): FileTable => ({
  title: `humidity in ${holding.place.name}`,
  columns: [
    { name: "at", means: "moment, UTC" },
    { name: "rh_pct", means: "relative humidity" },
    { name: "rh_high_pct", means: "as much as it may be, 9 times in 10" },
  ],
  rows: holding.at.map((at, index): Cell[] => [
    iso(new Date(at).getTime()),
    holding.rh_course[index] ?? null,
    holding.rh_high[index] ?? null,
  ]),
});

/** Every spool's line, hour by hour, one row each. */
export function rackTable(rack: Rack): FileTable {
  const start = new Date(rack.start).getTime();
  return {
    title: "moisture of all spools",
    columns: [
      { name: "spool", means: "name" },
      { name: "material", means: "polymer" },
      { name: "at", means: "moment, UTC" },
      { name: "moisture_pct", means: "water, % of the dry mass" },
      { name: "sd_pct", means: "its standard uncertainty" },
      { name: "clean_pct", means: "prints clean below" },
      { name: "trouble_pct", means: "shows in prints above" },
    ],
    rows: rack.lanes.flatMap(({ lane, pct, sd }) =>
      pct.map((value, at): Cell[] => [
        lane.spool.name,
        lane.material_short,
        iso(start + at * rack.step_h * HOUR),
        value,
        sd[at] ?? null,
        lane.clean_pct,
        lane.trouble_pct,
      ]),
    ),
  };
}

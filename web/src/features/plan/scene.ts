import type { DryingMap } from "../../api/client";
import type { MapScene } from "../../charts/DryingMapChart";
import { crossings } from "../../charts/dryingMap";
import type { Contour, Zone } from "../../charts/mapLayers";
import { percent } from "../../domain/numbers";
import { METHODS, zoneName } from "./words";

function zones(map: DryingMap, names: string[], dryer: string): Zone[] {
  const found = map.limits.map((limit): Zone => {
    const own = limit.kind === "dryer_max" || limit.kind === "dryer_min";
    return {
      from: limit.temp_c,
      side: limit.kind === "dryer_min" ? "below" : "above",
      name: zoneName(limit, names, dryer),
      harm: !own,
    };
  });
  // What lies above the first harm lies in it: only its edge is worth a line where it is another kind.
  const harms = found.filter((zone) => zone.harm);
  return [...found.filter((zone) => !zone.harm), ...harms.slice(0, 3)];
}

function contours(map: DryingMap, names: string[]): Contour[] {
  const field = { temps: map.temps_c, hours: map.hours, moisture: map.moisture_pct };
  const lead = names.length > 1 ? `${names[0] ?? ""} ` : "";
  const found: Contour[] = [];
  if (map.clean_pct !== null) {
    found.push({ name: `${lead}prints clean`, hours: crossings(field, map.clean_pct), kind: "clean" });
  }
  if (map.trouble_pct !== null && map.start_pct > map.trouble_pct) {
    found.push({
      name: "below the trouble threshold",
      hours: crossings(field, map.trouble_pct),
      kind: "trouble",
    });
  }
  if (map.aim_pct !== map.clean_pct) {
    found.push({
      name: `my aim ${percent(map.aim_pct)} %`,
      hours: crossings(field, map.aim_pct),
      kind: "own",
    });
  }
  for (const line of map.co_dried) {
    found.push({ name: `${line.name} prints clean`, hours: line.hours, kind: "co_dried" });
  }
  return found;
}

/** The map of the server as the chart draws it. */
export function sceneOf(map: DryingMap, names: string[], dryer: string): MapScene {
  return {
    field: { temps: map.temps_c, hours: map.hours, moisture: map.moisture_pct },
    trouble: map.trouble_pct ?? map.start_pct,
    floor: map.floor_pct,
    aim: map.aim_pct,
    zones: zones(map, names, dryer),
    contours: contours(map, names),
    turns: map.turns_h,
    rings: map.rings.map((ring) => ({
      name: METHODS[ring.name].name,
      temp: ring.temp_c,
      hours: ring.duration_h,
    })),
    levels: map.levels_c,
  };
}

import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import { useMemo, useState } from "react";
import type { DryingMap, Plan } from "../../api/client";
import { CourseChart } from "../../charts/CourseChart";
import { DryingMapChart } from "../../charts/DryingMapChart";
import { mapTable } from "../../charts/tables";
import type { Point } from "../../charts/dryingMap";
import { hours, percent } from "../../domain/numbers";
import { temp } from "../../domain/quantities";
import { tempUnit } from "../../domain/units";
import { Button } from "../../components/Button";
import { SaveTable } from "../../components/SaveTable";
import { standingLink } from "../../components/classes";
import { riskWords, METHODS, zoneName } from "./words";
import { sceneOf } from "./scene";

const BASIS: Record<string, string> = {
  wound_spool: "computed through the winding",
  shared_box: "computed with all of them wetting the box's air",
  loose_coil: "computed for a loose coil",
  open_winding: "a lower bound, as if every turn lay free",
};
const HEIGHT = 520;

interface Props {
  plan: Plan;
  map: DryingMap;
  onPin: (point: Point) => void;
}

/** The drying map, or the course of the chosen run over time. */
export function PlanView({ plan, map, onPin }: Props) {
  const [over, setOver] = useState<"map" | "time">("map");
  const basis = plan.ticket?.forecasts[0]?.basis ?? "wound_spool";
  return (
    <section aria-label="Drying map" className="min-w-0 print:hidden">
      <div className="mb-1 flex flex-wrap items-baseline gap-x-4 text-sm text-muted">
        <span>
          {over === "map"
            ? `↑ air at the spool, ${tempUnit()} · hours of heat →`
            : "water left in the filament, %"}
          {" · "}
          {BASIS[basis]}
        </span>
        <Button
          kind="link"
          className="ml-auto"
          disabled={!plan.ticket}
          onClick={() => {
            setOver(over === "map" ? "time" : "map");
          }}
        >
          {over === "map" ? "this run over time" : "the map"}
        </Button>
      </div>
      {over === "map" || !plan.ticket ? (
        <MapView
          plan={plan}
          map={map}
          names={plan.lanes.map((lane) => lane.spool.name).join("\n")}
          onPin={onPin}
        />
      ) : (
        <OverTime plan={plan} ticket={plan.ticket} />
      )}
    </section>
  );
}

interface MapProps extends Props {
  /** The spools' names in lines: as one text, so that the map is drawn anew only where one of them changes. */
  names: string;
}

function MapView({ plan, map, names, onPin }: MapProps) {
  const { ticket } = plan;
  const dryer = plan.dryer.name;
  const scene = useMemo(() => sceneOf(map, names.split("\n"), dryer), [map, names, dryer]);
  const pin = useMemo(() => (ticket ? { temp: ticket.air_c, hours: ticket.duration_h } : null), [ticket]);
  return (
    <>
      <DryingMapChart scene={scene} pin={pin} onSet={onPin} />
      <p id="pin-help" className="pl-10 text-sm text-muted">
        Drag the pin, or move it with the arrow keys (Shift for long steps). Colour: moisture against the
        trouble threshold.
      </p>
      <ul aria-label="Programmes as they stand" className="mt-1 flex flex-wrap gap-x-5 gap-y-1 pl-10 text-sm">
        {map.rings.map((ring) => (
          <li key={ring.name}>
            <Button
              kind="link"
              title={riskWords(
                ring.risk,
                ring.end_pct,
                ring.limit && zoneName(ring.limit, names.split("\n"), dryer),
              )}
              onClick={() => {
                onPin({ temp: ring.temp_c, hours: ring.duration_h });
              }}
            >
              {METHODS[ring.name].name}
            </Button>{" "}
            <span className="text-muted">
              {temp(ring.temp_c)}, {hours(ring.duration_h)}: {percent(ring.end_pct)} %
              {ring.risk === "limit" && <strong className="text-heat"> past a limit</strong>}
            </span>
          </li>
        ))}
      </ul>
      <Disclosure>
        <DisclosureButton className={`${standingLink} ml-10 text-sm text-muted`}>as a table</DisclosureButton>
        <DisclosurePanel className="mt-1 max-h-72 overflow-auto">
          <MapTable map={map} />
          <SaveTable table={() => mapTable(map)} />
        </DisclosurePanel>
      </Disclosure>
    </>
  );
}

const TABLE_COLUMNS = 9;
const TABLE_ROWS = 5;

function MapTable({ map }: { map: DryingMap }) {
  const columns = map.hours
    .map((_, at) => at)
    .filter((at) => at % Math.ceil(map.hours.length / TABLE_COLUMNS) === 0);
  return (
    <table className="w-full bg-paper text-left num text-sm">
      <caption className="sr-only">Moisture left in per cent, by air temperature and hours of heat</caption>
      <thead>
        <tr>
          <th scope="col" className="px-2 font-normal">
            air
          </th>
          {columns.map((at) => (
            <th key={at} scope="col" className="px-2 font-normal">
              {Number((map.hours[at] ?? 0).toFixed(1))} h
            </th>
          ))}
          <th scope="col" className="px-2 font-normal">
            floor
          </th>
        </tr>
      </thead>
      <tbody>
        {map.temps_c.map(
          (celsius, row) =>
            row % TABLE_ROWS === 0 && (
              <tr key={celsius} className="border-t border-line">
                <th scope="row" className="px-2 font-normal">
                  {temp(celsius)}
                </th>
                {columns.map((at) => (
                  <td key={at} className="px-2">
                    {percent(map.moisture_pct[row]?.[at] ?? 0)}
                  </td>
                ))}
                <td className="px-2">{percent(map.floor_pct[row] ?? 0)}</td>
              </tr>
            ),
        )}
      </tbody>
    </table>
  );
}

function OverTime({ plan, ticket }: { plan: Plan; ticket: NonNullable<Plan["ticket"]> }) {
  const courses = ticket.forecasts.map((forecast) =>
    forecast.time_h.map((time, at) => ({
      time,
      mean: forecast.moisture_pct[at] ?? 0,
      low: forecast.low_pct[at] ?? 0,
      high: forecast.high_pct[at] ?? 0,
    })),
  );
  const [lane, other] = plan.lanes;
  const member = ticket.members[0];
  const [course = [], beside] = courses;
  if (!lane || !member) return null;
  return (
    <CourseChart
      label={`Forecast of ${lane.spool.name} in ${plan.dryer.name}: ${percent(member.end_pct)} % after ${hours(ticket.duration_h)}`}
      course={course}
      {...(beside && other && { beside: { name: other.spool.name, course: beside } })}
      marks={[
        { at: member.aim_pct, name: "prints clean", kind: "clean" },
        ...(lane.trouble_pct === null
          ? []
          : [{ at: lane.trouble_pct, name: "trouble threshold", kind: "trouble" as const }]),
        { at: member.floor_pct, name: "this room's air stops here", kind: "floor" },
      ]}
      moments={[{ at: ticket.end_h, name: "stop", strong: true }]}
      tick={(time) => `${Number(time.toFixed(1))} h`}
      axis="hours of heat"
      height={HEIGHT - 10}
    />
  );
}

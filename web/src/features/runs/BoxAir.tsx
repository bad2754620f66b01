import { useQuery } from "@tanstack/react-query";
import type { RunSheet } from "../../api/client";
import { runAir } from "./queries";
import { temp } from "../../domain/quantities";
import { BoxAirChart } from "../../charts/BoxAirChart";
import { airTable } from "../../charts/tables";
import { SaveTable } from "../../components/SaveTable";
import { DryerHabits } from "./DryerHabits";
import { TypedAir } from "./TypedAir";
import { airSentence, humidityLine } from "./airWords";

const HOUR = 3_600_000;

/** What the air in the box tells, where a logger hangs in it or somebody reads a meter. */
export function BoxAir({ sheet, endH }: { sheet: RunSheet; endH: number }) {
  const { data } = useQuery(runAir(sheet.run.id));
  if (!data) return null;
  const { heard: air, typed } = data;
  const { run } = sheet;
  const began = Date.parse(run.started_at);
  const dots = typed.map(({ at, ...rest }) => ({ time: (Date.parse(at) - began) / HOUR, ...rest }));
  if (!air && typed.length === 0 && run.ended_at !== null) return null;
  return (
    <section aria-label="Box air" className="mt-4">
      {air && (
        <>
          <h2>{airSentence(air)}</h2>
          <p className="text-sm text-muted">
            {air.device_name}
            {air.display_c !== null &&
              ` · the dryer’s display says ${temp(air.display_c)}, the logger ${temp(Math.round(air.temp_now_c))}`}
            {air.gaps.length > 0 &&
              `, ${air.gaps.length} ${air.gaps.length === 1 ? "gap" : "gaps"} not counted`}
          </p>
          <BoxAirChart air={air} label={airSentence(air)} planned_c={run.temp_c} typed={dots} endH={endH} />
          <p className="text-sm text-muted">{humidityLine(air)}</p>
          <SaveTable table={() => airTable(air)} />
        </>
      )}
      <TypedAir run={run} typed={typed} />
      <DryerHabits run={run.id} dryer={run.dryer.name} />
    </section>
  );
}

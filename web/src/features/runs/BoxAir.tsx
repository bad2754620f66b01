import { useQuery } from "@tanstack/react-query";
import type { RunSheet } from "../../api/client";
import { runAir } from "./queries";
import { temp } from "../../domain/quantities";
import { BoxAirChart } from "../../charts/BoxAirChart";
import { airTable } from "../../charts/tables";
import { SaveTable } from "../../components/SaveTable";
import { DryerHabits } from "./DryerHabits";
import { airSentence, humidityLine } from "./airWords";

/** What the air in the box tells, where a logger hangs in it. */
export function BoxAir({ sheet, endH }: { sheet: RunSheet; endH: number }) {
  const { data } = useQuery(runAir(sheet.run.id));
  const air = data?.heard;
  if (!air) return null;
  return (
    <section aria-label="Box air" className="mt-4">
      <h2>{airSentence(air)}</h2>
      <p className="text-sm text-muted">
        water in the air, g/m³: the box against the room · {air.device_name}
        {air.display_c !== null &&
          ` · the dryer’s display says ${temp(air.display_c)}, the logger ${temp(Math.round(air.temp_now_c))}`}
        {air.gaps.length > 0 && `, ${air.gaps.length} ${air.gaps.length === 1 ? "gap" : "gaps"} not counted`}
      </p>
      <BoxAirChart air={air} label={airSentence(air)} endH={endH} />
      <p className="text-sm text-muted">{humidityLine(air)}</p>
      <SaveTable table={() => airTable(air)} />
      <DryerHabits run={sheet.run.id} dryer={sheet.run.dryer.name} />
    </section>
  );
}

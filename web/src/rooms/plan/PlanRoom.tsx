import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useSearchParams } from "react-router";
import { ApiError, type Dryer, type Lane, type Plan } from "../../api/client";
import {
  dryers as dryersQuery,
  lanes as lanesQuery,
  plan as planQuery,
  type PlanQuery,
  type School,
} from "../../api/queries";
import { CourseChart } from "../../charts/CourseChart";
import { hours, percent } from "../../format/numbers";
import { useShell } from "../../shell/shell";
import { Skeleton } from "../../ui/Skeleton";
import { Trouble } from "../../ui/Trouble";
import { planSentence } from "../../words/plan";
import { PlanControls } from "./PlanControls";
import { RunTicket } from "./RunTicket";

type Change = Partial<Record<"spool" | "dryer" | "school" | "form" | "temp_c" | "duration_h", string | null>>;

const BASIS: Record<string, string> = {
  wound_pack: "computed through the winding",
  loose_coil: "computed for a loose coil",
};

const SCHOOLS: readonly School[] = ["gentle", "usual", "brisk"];
const isSchool = (text: string | null): text is School => SCHOOLS.some((school) => school === text);

/** What to set, for how long: spool, dryer and school to the left, the forecast, and the ticket. */
export function PlanRoom() {
  const lanes = useQuery(lanesQuery);
  const dryers = useQuery(dryersQuery);
  if (lanes.error ?? dryers.error) {
    const error = lanes.error ?? dryers.error;
    return (
      error && <Trouble error={error} onRetry={() => Promise.all([lanes.refetch(), dryers.refetch()])} />
    );
  }
  if (!lanes.data || !dryers.data) return <Skeleton rows={4} height="h-32" />;
  const free = lanes.data.filter((lane) => !lane.run && lane.usual);
  if (free.length === 0 || dryers.data.length === 0) {
    return <h1>There is nothing to plan: no spool that could be dried, or no dryer.</h1>;
  }
  return <Planner lanes={free} dryers={dryers.data} />;
}

/** What is chosen, kept in the address so that it can be gone back to. */
function useChoice(lanes: Lane[], dryers: Dryer[]) {
  const [params, setParams] = useSearchParams();
  const number = (name: string) => Number(params.get(name));
  const asked = params.get("school");
  const lane = lanes.find((it) => it.spool.id === number("spool")) ?? lanes[0];
  const dryer = dryers.find((it) => it.id === number("dryer")) ?? dryers[0];
  const form = params.get("form");
  const temp = params.get("temp_c");
  const duration = params.get("duration_h");
  const query: PlanQuery = {
    spool: lane?.spool.id ?? 0,
    dryer: dryer?.id ?? 0,
    school: isSchool(asked) ? asked : "usual",
    ...(form !== null && { form: form === "loose" ? "loose" : "wound" }),
    ...(temp !== null && { temp_c: temp }),
    ...(duration !== null && { duration_h: duration }),
  };

  function change(values: Change) {
    const next = new URLSearchParams(params);
    next.set("spool", String(query.spool));
    for (const [name, value] of Object.entries(values)) {
      if (value === null) next.delete(name);
      else next.set(name, value);
    }
    setParams(next, { replace: true });
  }
  return { lane, dryer, query, change };
}

function headline(plan: Plan | undefined, refused: ApiError | null): string {
  if (refused) return refused.message;
  return plan ? planSentence(plan) : "Working it out …";
}

function Planner({ lanes, dryers }: { lanes: Lane[]; dryers: Dryer[] }) {
  const { lane, dryer, query, change } = useChoice(lanes, dryers);
  const { lookAt } = useShell();
  const { data, error } = useQuery(planQuery(query));
  useEffect(() => {
    lookAt(query.spool);
  }, [lookAt, query.spool]);
  if (!lane || !dryer) return null;

  const refused = error instanceof ApiError ? error : null;
  const onField = refused?.field === "temp_c" || refused?.field === "duration_h";
  return (
    <>
      <h1 className="mb-3">{headline(data, refused)}</h1>
      <div className="grid gap-6 lane:grid-cols-[15rem_1fr] xl:grid-cols-[15rem_1fr_18rem]">
        <PlanControls
          lanes={lanes}
          lane={lane}
          dryers={dryers}
          dryer={dryer}
          school={query.school}
          plan={data}
          error={onField ? { field: refused.field, message: refused.message } : null}
          onChange={change}
        />
        <PlanOutcome plan={data} query={query} refused={onField ? null : refused} />
      </div>
    </>
  );
}

interface OutcomeProps {
  plan: Plan | undefined;
  query: PlanQuery;
  refused: ApiError | null;
}

function PlanOutcome({ plan, query, refused }: OutcomeProps) {
  if (refused) {
    return (
      <p className="self-start border-l-4 border-heat bg-paper p-4 xl:col-span-2">
        Choose another dryer, school or spool on the left.
      </p>
    );
  }
  if (!plan) return <Skeleton rows={1} height="h-96" />;
  return (
    <>
      <PlanForecast plan={plan} />
      <RunTicket key={`${query.spool} ${query.dryer}`} plan={plan} school={query.school} />
    </>
  );
}

function PlanForecast({ plan }: { plan: Plan }) {
  const { forecast, ticket, lane } = plan;
  const course = forecast.time_h.map((time, at) => ({
    time,
    mean: forecast.moisture_pct[at] ?? 0,
    low: forecast.low_pct[at] ?? 0,
    high: forecast.high_pct[at] ?? 0,
  }));
  return (
    <section aria-label="Forecast" className="min-w-0">
      <p className="text-sm text-muted">
        water left in the plastic, % · band: 9 cases in 10 · {BASIS[forecast.basis]}
      </p>
      <CourseChart
        label={`Forecast of ${lane.spool.name} in ${plan.dryer.name}: ${percent(ticket.end_pct)} % after ${hours(ticket.duration_h)}`}
        course={course}
        marks={[
          { at: ticket.aim_pct, name: "prints clean", kind: "clean" },
          ...(lane.trouble_pct === null
            ? []
            : [{ at: lane.trouble_pct, name: "trouble mark", kind: "trouble" as const }]),
          { at: ticket.floor_pct, name: "this room's air stops here", kind: "floor" },
        ]}
        moments={[{ at: ticket.duration_h, name: "stop", strong: true }]}
        tick={(time) => `${Number(time.toFixed(1))} h`}
        axis="hours of heat"
        height={470}
      />
    </section>
  );
}

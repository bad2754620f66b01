import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { ApiError, type Dryer, type DryingMap, type Lane, type Plan } from "../../api/client";
import { dryers as dryersQuery } from "../equipment/queries";
import { type SetupQuery, plan as planQuery, planMap as mapQuery } from "./queries";
import { lanes as lanesQuery } from "../rack/queries";
import type { Point } from "../../charts/dryingMap";
import { useShell } from "../../components/shell";
import { PageHeading } from "../../components/PageHeading";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { planSentence } from "./words";
import { PlanControls } from "./PlanControls";
import { PlanView } from "./PlanView";
import { RunTicket } from "./RunTicket";
import { WhatCould } from "./WhatCould";
import { type PlanChange, usePlanChoice } from "./usePlanChoice";

/** What to set, for how long: spool, company, dryer and way to the left, the drying map, and the ticket. */
export function PlanPage() {
  const lanes = useQuery(lanesQuery);
  const dryers = useQuery(dryersQuery);
  if (lanes.error ?? dryers.error) {
    const error = lanes.error ?? dryers.error;
    return (
      error && <Trouble error={error} onRetry={() => Promise.all([lanes.refetch(), dryers.refetch()])} />
    );
  }
  if (!lanes.data || !dryers.data) return <Skeleton page="Plan" rows={4} height="h-32" />;
  const free = lanes.data.filter((lane) => !lane.run && lane.usual);
  if (free.length === 0 || dryers.data.length === 0) {
    return <PageHeading page="Plan">Nothing to plan yet: add a spool and a dryer first.</PageHeading>;
  }
  return <Planner lanes={free} dryers={dryers.data} />;
}

function headline(plan: Plan | undefined, refused: ApiError | null): string {
  if (refused) return refused.message;
  return plan ? planSentence(plan) : "Working it out …";
}

const OWN_FIELDS = ["temp_c", "duration_h", "aim_pct", "ready_in_h"];

/** The trouble as one of a field beside the map, where it is one. */
const ofField = (refused: ApiError | null) =>
  refused?.field != null && OWN_FIELDS.includes(refused.field)
    ? { field: refused.field, message: refused.message }
    : null;

function Planner({ lanes, dryers }: { lanes: Lane[]; dryers: Dryer[] }) {
  const choice = usePlanChoice(lanes, dryers);
  const { lane, setup, query, change } = choice;
  const { lookAt } = useShell();
  const { data, error, isPlaceholderData: stale } = useQuery(planQuery(query));
  // The map is the same wherever the pin stands, so it is asked for without it.
  const map = useQuery(mapQuery(setup)).data;
  useEffect(() => {
    lookAt(query.spool);
  }, [lookAt, query.spool]);
  if (!lane) return null;

  const refused = error instanceof ApiError ? error : null;
  return (
    <>
      <PageHeading page="Plan" className="mb-3 print:hidden">
        {headline(data, refused)}
      </PageHeading>
      <div className="grid gap-x-6 gap-y-4 lane:grid-cols-[15rem_1fr] xl:grid-cols-[15rem_1fr_18.5rem] print:block">
        <PlanControls
          lanes={lanes}
          dryers={dryers}
          choice={choice}
          lane={lane}
          plan={data}
          rings={map?.rings ?? []}
          error={ofField(refused)}
        />
        <Middle
          map={map}
          plan={data}
          refused={refused}
          onPin={(point) => {
            change({ temp_c: String(point.temp), duration_h: String(point.hours) });
          }}
        />
        {data && !refused && (
          <Right plan={data} stale={stale} setup={setup} dryers={dryers} onChange={change} />
        )}
      </div>
    </>
  );
}

interface MiddleProps {
  map: DryingMap | undefined;
  plan: Plan | undefined;
  refused: ApiError | null;
  onPin: (point: Point) => void;
}

function Middle({ map, plan, refused, onPin }: MiddleProps) {
  if (map && plan) return <PlanView plan={plan} map={map} onPin={onPin} />;
  if (refused) {
    return (
      <p className="self-start border-l-4 border-heat bg-paper p-4">
        Choose another dryer, method or spool on the left.
      </p>
    );
  }
  return <Skeleton rows={1} height="h-[34rem]" />;
}

interface RightProps {
  plan: Plan;
  /** Another is being worked out: this one loses its colours and cannot be started. */
  stale: boolean;
  setup: SetupQuery;
  dryers: Dryer[];
  onChange: (values: PlanChange) => void;
}

function Right({ plan, stale, setup, dryers, onChange }: RightProps) {
  const { ticket, outcome } = plan;
  const stuck = !ticket || outcome === "cannot" || outcome === "harms";
  return (
    // On a phone the ticket and its start come first, then what can be chosen, then the map.
    <div
      aria-busy={stale}
      className="order-first flex min-w-0 flex-col gap-3 lane:order-none lane:col-start-2 xl:col-start-auto"
    >
      {stuck && <WhatCould plan={plan} setup={setup} dryers={dryers} onChange={onChange} />}
      {ticket && (
        <RunTicket
          key={`${setup.spool} ${plan.dryer.id} ${setup.co_dried ?? ""}`}
          plan={plan}
          ticket={ticket}
          stale={stale}
        />
      )}
    </div>
  );
}

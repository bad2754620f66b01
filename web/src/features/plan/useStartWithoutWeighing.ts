import { useState } from "react";
import { useNavigate } from "react-router";
import type { Plan, Ticket } from "../../api/client";
import { runOf, useStartRun } from "./acts";
import { useShell } from "../../components/shell";

/** Starts the run of each spool that goes in, without the scale. Pressed twice, it is once. */
export function useStartWithoutWeighing(plan: Plan, ticket: Ticket, reason: string) {
  const start = useStartRun();
  const navigate = useNavigate();
  const { notify } = useShell();
  const [keys] = useState(() => plan.lanes.map(() => crypto.randomUUID()));
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string>();

  async function act() {
    setBusy(true);
    setError(undefined);
    try {
      for (const [at, lane] of plan.lanes.entries()) {
        const answer = await start.mutateAsync({
          ...runOf(plan, ticket, lane.spool.id, reason),
          weigh_in: null,
          client_key: keys[at] ?? crypto.randomUUID(),
        });
        notify({ text: `Started drying ${lane.spool.name}.`, undo: answer.undo });
        if (at === plan.lanes.length - 1) void navigate(`/runs/${answer.run.id}`);
      }
    } catch (refused) {
      setError(refused instanceof Error ? refused.message : String(refused));
    } finally {
      setBusy(false);
    }
  }
  return { act, busy, error };
}

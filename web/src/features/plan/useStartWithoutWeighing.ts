import { useState } from "react";
import { useNavigate } from "react-router";
import type { Plan, Ticket } from "../../api/client";
import { batchOf, useStartRun } from "./acts";
import { useShell } from "../../components/shell";
import { namesOf } from "./words";

/** Starts all that goes in, without the scale. Pressed twice, it is once. */
export function useStartWithoutWeighing(plan: Plan, ticket: Ticket, reason: string) {
  const start = useStartRun();
  const navigate = useNavigate();
  const { notify } = useShell();
  const [key] = useState(() => crypto.randomUUID());

  const act = () => {
    start.mutate(
      { ...batchOf(plan, ticket, reason), readings: [], client_key: key },
      {
        onSuccess: ({ runs, undo }) => {
          notify({ text: `Started drying ${namesOf(plan.lanes)}.`, undo });
          void navigate(`/runs/${runs[0]?.id ?? ""}`);
        },
      },
    );
  };
  return { act, busy: start.isPending, error: start.error?.message };
}

import { useAct } from "../../api/act";
import { client, type Plan, type Ticket, unwrap } from "../../api/client";
import { MOISTURE } from "../../api/keys";
import type { components } from "../../api/schema";

type Schemas = components["schemas"];

/** The run of one of the spools that go in, as its ticket says; the weighing and the key are its own. */
export const runOf = (plan: Plan, ticket: Ticket, spool: number, reason: string) => ({
  spool,
  dryer: plan.dryer.id,
  method: plan.method,
  form: plan.form,
  temp_c: ticket.air_c,
  duration_h: ticket.duration_h,
  override_reason: reason,
});

export const useStartRun = () =>
  useAct((body: Schemas["StartRunRequest"]) => unwrap(client.POST("/api/plan/start/", { body })), {
    refreshes: MOISTURE,
  });

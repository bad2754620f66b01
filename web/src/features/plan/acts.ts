import { useAct } from "../../api/act";
import { client, type Plan, type Ticket, unwrap } from "../../api/client";
import { MOISTURE } from "../../api/keys";
import type { components } from "../../api/schema";

type Schemas = components["schemas"];

/** What is started: all that goes in, as the ticket says; the weighings and the key are its own. */
export const batchOf = (plan: Plan, ticket: Ticket, reason: string) => ({
  spool: plan.lanes[0]?.spool.id ?? 0,
  co_dried: plan.lanes.slice(1).map((lane) => lane.spool.id),
  aim_pct: ticket.members[0]?.aim_pct ?? null,
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

import { useAct } from "../../api/act";
import { client, unwrap } from "../../api/client";
import { MOISTURE } from "../../api/keys";
import type { components } from "../../api/schema";

type Schemas = components["schemas"];

export const useStartRun = () =>
  useAct((body: Schemas["StartRunRequest"]) => unwrap(client.POST("/api/plan/start/", { body })), {
    refreshes: MOISTURE,
  });

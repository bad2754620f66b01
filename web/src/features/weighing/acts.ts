import { useAct } from "../../api/act";
import { client, unwrap } from "../../api/client";
import { MOISTURE } from "../../api/keys";
import type { components } from "../../api/schema";

type Schemas = components["schemas"];

export type Reading = Schemas["ReadingRequest"];

export const useSaveWeighing = () =>
  useAct((body: Schemas["SaveWeighingRequest"]) => unwrap(client.POST("/api/weighings/", { body })), {
    refreshes: MOISTURE,
  });

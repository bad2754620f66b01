import { useAct } from "../../api/act";
import { client, unwrap } from "../../api/client";
import { EVERYTHING } from "../../api/keys";
import type { components } from "../../api/schema";

type Schemas = components["schemas"];

export const useFirstWorkshop = () =>
  useAct((body: Schemas["FirstWorkshopRequest"]) => unwrap(client.POST("/api/first-workshop/", { body })), {
    refreshes: EVERYTHING,
  });

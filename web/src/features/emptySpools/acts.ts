import { useAct } from "../../api/act";
import { client, unwrap } from "../../api/client";
import { keys, MOISTURE } from "../../api/keys";
import type { components } from "../../api/schema";

export const useTakeOver = () =>
  useAct(
    (body: components["schemas"]["PastedEmptySpoolsRequest"]) =>
      unwrap(client.POST("/api/empty-spools/table/", { body })),
    { refreshes: [keys.emptySpools, ...MOISTURE] },
  );

import { useAct } from "../api/act";
import { client, unwrap } from "../api/client";
import { EVERYTHING } from "../api/keys";

export const useUndo = () =>
  useAct(
    (line: number) =>
      unwrap(client.POST("/api/history/{entry_id}/undo/", { params: { path: { entry_id: line } } })),
    { refreshes: EVERYTHING },
  );

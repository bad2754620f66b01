import { useMutation, useQueryClient } from "@tanstack/react-query";
import { client, unwrap } from "./client";
import type { components } from "./schema";

type Schemas = components["schemas"];
export type Reading = Schemas["ReadingRequest"];

/** Every act may change lanes, plans and runs: all that is on the screen is asked for again. */
function useAct<Given, Answer>(act: (given: Given) => Promise<Answer>) {
  const queries = useQueryClient();
  return useMutation({ mutationFn: act, onSuccess: () => queries.invalidateQueries(), retry: false });
}

export const useKeepWeighing = () =>
  useAct((body: Schemas["KeepWeighingRequest"]) => unwrap(client.POST("/api/weighings/", { body })));

export const useStartRun = () =>
  useAct((body: Schemas["StartRunRequest"]) => unwrap(client.POST("/api/runs/", { body })));

export const useEndRun = () =>
  useAct(({ run, ...body }: Schemas["EndRunRequest"] & { run: number }) =>
    unwrap(client.POST("/api/runs/{run_id}/end/", { params: { path: { run_id: run } }, body })),
  );

export const useUndo = () =>
  useAct((line: number) =>
    unwrap(client.POST("/api/history/{line_id}/undo/", { params: { path: { line_id: line } } })),
  );

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

export const useAddWeighings = () =>
  useAct(
    (body: Schemas["PastedWeighingsRequest"]) => unwrap(client.POST("/api/weighings/table/", { body })),
    { refreshes: MOISTURE },
  );

export const useCorrectWeighing = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["CorrectWeighingRequest"] }) =>
      unwrap(client.PUT("/api/weighings/{weighing_id}/", { params: { path: { weighing_id: id } }, body })),
    { refreshes: MOISTURE },
  );

export const useRemoveWeighing = () =>
  useAct(
    (id: number) =>
      unwrap(client.DELETE("/api/weighings/{weighing_id}/", { params: { path: { weighing_id: id } } })),
    { refreshes: MOISTURE },
  );

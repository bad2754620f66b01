import { takeInto, useAct } from "../../api/act";
import { client, unwrap } from "../../api/client";
import { MOISTURE, keys } from "../../api/keys";
import type { components } from "../../api/schema";

type Schemas = components["schemas"];

export const useAddPlace = () =>
  useAct((body: Schemas["WritePlaceRequest"]) => unwrap(client.POST("/api/places/", { body })), {
    refreshes: [keys.places, ...MOISTURE],
    takes: (queries, answer) => {
      takeInto(queries, keys.places, answer.place);
    },
  });

export const useChangePlace = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["WritePlaceRequest"] }) =>
      unwrap(client.PUT("/api/places/{place_id}/", { params: { path: { place_id: id } }, body })),
    {
      refreshes: [keys.places, keys.ingress, ...MOISTURE],
      takes: (queries, answer) => {
        takeInto(queries, keys.places, answer.place);
      },
    },
  );

export const useRemovePlace = () =>
  useAct(
    (id: number) => unwrap(client.DELETE("/api/places/{place_id}/", { params: { path: { place_id: id } } })),
    { refreshes: [keys.places, ...MOISTURE] },
  );

export const useFillPlace = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["WriteFillRequest"] }) =>
      unwrap(client.POST("/api/places/{place_id}/fills/", { params: { path: { place_id: id } }, body })),
    { refreshes: MOISTURE },
  );

export const useWeighDesiccant = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["WriteDesiccantWeighingRequest"] }) =>
      unwrap(client.POST("/api/fills/{fill_id}/weighings/", { params: { path: { fill_id: id } }, body })),
    { refreshes: [keys.storage] },
  );

export const useNoteAir = () =>
  useAct((body: Schemas["WriteRoomAirRequest"]) => unwrap(client.POST("/api/room/readings/", { body })), {
    refreshes: [keys.room, ...MOISTURE],
  });

export const useSetMonths = () =>
  useAct((body: Schemas["MonthsRequest"]) => unwrap(client.PUT("/api/room/months/", { body })), {
    refreshes: [keys.months, ...MOISTURE],
  });

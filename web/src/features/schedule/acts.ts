import { useAct } from "../../api/act";
import { client, unwrap } from "../../api/client";
import { keys, PLANS } from "../../api/keys";
import type { components } from "../../api/schema";
import { zone } from "../../domain/times";

type Schemas = components["schemas"];

const SCHEDULES = { refreshes: [keys.schedules, keys.nextStarts] };
/** Who is at home counts for every plan's timers too. */
const HOURS = { refreshes: [...PLANS] };

export const useWorkOut = () =>
  useAct(() => unwrap(client.POST("/api/schedule/", { body: { zone } })), SCHEDULES);

export const useStop = () => useAct(() => unwrap(client.POST("/api/schedule/stop/")), { refreshes: [] });

export const useAddWish = () =>
  useAct(
    (body: Schemas["WriteWishRequest"]) => unwrap(client.POST("/api/schedule/wishes/", { body })),
    SCHEDULES,
  );

export const useChangeWish = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["PatchedChangeWishRequest"] }) =>
      unwrap(client.PATCH("/api/schedule/wishes/{wish_id}/", { params: { path: { wish_id: id } }, body })),
    SCHEDULES,
  );

export const useRemoveWish = () =>
  useAct(
    (id: number) =>
      unwrap(client.DELETE("/api/schedule/wishes/{wish_id}/", { params: { path: { wish_id: id } } })),
    SCHEDULES,
  );

export const usePin = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["PinRequest"] }) =>
      unwrap(client.PUT("/api/schedule/wishes/{wish_id}/pin/", { params: { path: { wish_id: id } }, body })),
    SCHEDULES,
  );

export const useAddHelper = () =>
  useAct(
    (body: Schemas["WriteHelperRequest"]) => unwrap(client.POST("/api/schedule/helpers/", { body })),
    HOURS,
  );

export const useRemoveHelper = () =>
  useAct(
    (id: number) =>
      unwrap(client.DELETE("/api/schedule/helpers/{helper_id}/", { params: { path: { helper_id: id } } })),
    HOURS,
  );

export const useAddHomeChange = () =>
  useAct(
    (body: Schemas["WriteHomeChangeRequest"]) => unwrap(client.POST("/api/schedule/changes/", { body })),
    HOURS,
  );

export const useRemoveHomeChange = () =>
  useAct(
    (id: number) =>
      unwrap(client.DELETE("/api/schedule/changes/{change_id}/", { params: { path: { change_id: id } } })),
    HOURS,
  );

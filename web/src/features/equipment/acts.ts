import { type QueryClient, useMutation } from "@tanstack/react-query";
import { takeInto, useAct } from "../../api/act";
import { client, unwrap } from "../../api/client";
import { limits, send } from "../../api/upload";
import { MOISTURE, PLANS, keys } from "../../api/keys";
import type { components } from "../../api/schema";

type Schemas = components["schemas"];

/** A dryer that was saved is on the screen at once; what is planned by it is asked for again. */
const DRYER_SAVED = {
  refreshes: [keys.dryers, ...PLANS],
  takes: (queries: QueryClient, answer: Schemas["SavedDryer"]) => {
    takeInto(queries, keys.dryers, answer.dryer);
  },
};

export const useAddDryer = () =>
  useAct((body: Schemas["WriteDryerRequest"]) => unwrap(client.POST("/api/dryers/", { body })), DRYER_SAVED);

export const useChangeDryer = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["WriteDryerRequest"] }) =>
      unwrap(client.PUT("/api/dryers/{dryer_id}/", { params: { path: { dryer_id: id } }, body })),
    DRYER_SAVED,
  );

export const useSetInService = () =>
  useAct(
    ({ id, in_service }: { id: number; in_service: boolean }) =>
      unwrap(
        client.PUT("/api/dryers/{dryer_id}/service/", {
          params: { path: { dryer_id: id } },
          body: { in_service },
        }),
      ),
    DRYER_SAVED,
  );

export const useRemoveDryer = () =>
  useAct(
    (id: number) => unwrap(client.DELETE("/api/dryers/{dryer_id}/", { params: { path: { dryer_id: id } } })),
    { refreshes: [keys.dryers, ...PLANS] },
  );

export const useAddScale = () =>
  useAct((body: Schemas["WriteScaleRequest"]) => unwrap(client.POST("/api/scales/", { body })), {
    refreshes: [keys.scales],
    takes: (queries, answer) => {
      takeInto(queries, keys.scales, answer.scale);
    },
  });

export const useRemoveScale = () =>
  useAct(
    (id: number) => unwrap(client.DELETE("/api/scales/{scale_id}/", { params: { path: { scale_id: id } } })),
    { refreshes: [keys.scales] },
  );

export const useAddDevice = () =>
  useAct((body: Schemas["WriteDeviceRequest"]) => unwrap(client.POST("/api/devices/", { body })), {
    refreshes: [keys.devices],
  });

export const useRemoveDevice = () =>
  useAct(
    (id: number) =>
      unwrap(client.DELETE("/api/devices/{device_id}/", { params: { path: { device_id: id } } })),
    { refreshes: [keys.devices] },
  );

export const useRenewToken = () =>
  useAct(
    (id: number) =>
      unwrap(client.POST("/api/devices/{device_id}/token/", { params: { path: { device_id: id } } })),
    { refreshes: [keys.devices] },
  );

export const useSetHumidityOffset = () =>
  useAct(
    ({ id, ...body }: { id: number } & Schemas["HumidityOffsetRequest"]) =>
      unwrap(client.PUT("/api/devices/{device_id}/humidity/", { params: { path: { device_id: id } }, body })),
    { refreshes: [keys.devices, keys.room, keys.ingress, ...MOISTURE] },
  );

interface Table {
  file: File;
  zone: string;
  layout: Schemas["Layout"] | null;
}

/** The address that a table is sent to: how it is read stands in it. Heads are the file’s own. */
function addressOf(path: string, { zone, layout }: Table, device?: number): string {
  const asked = new URLSearchParams({ zone });
  const columns = layout?.columns.map(({ meaning, unit }) => ({ meaning, unit }));
  if (layout) asked.set("layout", JSON.stringify({ ...layout, columns }));
  if (device !== undefined) asked.set("device", String(device));
  return `${path}?${asked}`;
}

async function sent<Answer>(address: string, file: File): Promise<Answer> {
  const { table_bytes } = await limits();
  return send(address, table_bytes, {
    file,
    onProgress: () => undefined,
    signal: new AbortController().signal,
  });
}

/** Looking stores nothing, so nothing on the screen changes by it. */
export const useLookIntoFile = () =>
  useMutation({
    mutationFn: (table: Table) =>
      sent<Schemas["Looked"]>(addressOf("/api/logger-files/look/", table), table.file),
    retry: false,
  });

export const useImportFile = () =>
  useAct(
    ({ device, ...table }: Table & { device: number }) =>
      sent<Schemas["Imported"]>(addressOf("/api/logger-files/", table, device), table.file),
    { refreshes: [keys.devices, keys.room, keys.ingress, ...MOISTURE] },
  );

export const useAddProbe = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["WriteProbeRequest"] }) =>
      unwrap(client.POST("/api/dryers/{dryer_id}/probes/", { params: { path: { dryer_id: id } }, body })),
    DRYER_SAVED,
  );

export const useRemoveProbe = () =>
  useAct(
    (id: number) => unwrap(client.DELETE("/api/probes/{probe_id}/", { params: { path: { probe_id: id } } })),
    DRYER_SAVED,
  );

import { queryOptions } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";
import type { operations } from "../../api/schema";

const MINUTE = 60_000;

export const dryers = queryOptions({
  queryKey: keys.dryers,
  queryFn: () => unwrap(client.GET("/api/dryers/")),
  staleTime: Infinity,
});

export const devices = queryOptions({
  queryKey: keys.devices,
  queryFn: () => unwrap(client.GET("/api/devices/")),
  refetchInterval: MINUTE,
});

type Asked = NonNullable<operations["humidity_check"]["parameters"]["query"]>;
/** A salt whose wet paste keeps the air over it at one humidity. */
export type Salt = NonNullable<Asked["salt"]>;
export type Where = { salt: Salt } | { beside: number };

/** By how much a logger’s humidity is off, by where it lay in its last hours. */
export const humidityCheck = (device: number, where: Where) =>
  queryOptions({
    queryKey: [...keys.devices, device, "humidity", where],
    queryFn: () =>
      unwrap(
        client.GET("/api/devices/{device_id}/humidity/", {
          params: { path: { device_id: device }, query: where },
        }),
      ),
    retry: false,
  });

export const scales = queryOptions({
  queryKey: keys.scales,
  queryFn: () => unwrap(client.GET("/api/scales/")),
  staleTime: Infinity,
});

export const dryerKinds = queryOptions({
  queryKey: keys.dryerKinds,
  queryFn: () => unwrap(client.GET("/api/dryer-kinds/")),
  staleTime: Infinity,
});

/** What a scale shows that sends its own readings; null where none is heard. */
export const liveMass = (scale: number) =>
  queryOptions({
    queryKey: keys.liveMass(scale),
    queryFn: () =>
      unwrap(client.GET("/api/scales/{scale_id}/live/", { params: { path: { scale_id: scale } } })),
    refetchInterval: 1000,
    enabled: scale > 0,
    retry: false,
  });

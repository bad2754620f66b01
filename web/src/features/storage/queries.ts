import { queryOptions } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";

const MINUTE = 60_000;

export const room = queryOptions({
  queryKey: keys.room,
  queryFn: () => unwrap(client.GET("/api/room/")),
  refetchInterval: 5 * MINUTE,
});

export const keep = queryOptions({
  queryKey: keys.storage,
  queryFn: () => unwrap(client.GET("/api/storage/")),
  refetchInterval: 5 * MINUTE,
});

/** What a logger in a container tells of its ingress; null where none does. */
export const loggedIngress = (place: number) =>
  queryOptions({
    queryKey: keys.ingressOf(place),
    queryFn: () =>
      unwrap(client.GET("/api/places/{place_id}/ingress/", { params: { path: { place_id: place } } })),
    staleTime: 5 * MINUTE,
  });

export const places = queryOptions({
  queryKey: keys.places,
  queryFn: () => unwrap(client.GET("/api/places/")),
  staleTime: Infinity,
});

export const months = queryOptions({
  queryKey: keys.months,
  queryFn: () => unwrap(client.GET("/api/room/months/")),
  staleTime: Infinity,
});

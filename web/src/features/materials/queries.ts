import { queryOptions } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";

export const materials = queryOptions({
  queryKey: keys.materials,
  queryFn: () => unwrap(client.GET("/api/materials/")),
  staleTime: Infinity,
});

export const mixedIn = queryOptions({
  queryKey: keys.mixedIn,
  queryFn: () => unwrap(client.GET("/api/materials/mixed-in/")),
  staleTime: Infinity,
});

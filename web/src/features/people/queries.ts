import { queryOptions } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";

export const session = queryOptions({
  queryKey: keys.session,
  queryFn: () => unwrap(client.GET("/api/session/")),
  staleTime: Infinity,
});

export const accounts = queryOptions({
  queryKey: keys.accounts,
  queryFn: () => unwrap(client.GET("/api/accounts/")),
});

export const network = queryOptions({
  queryKey: keys.network,
  queryFn: () => unwrap(client.GET("/api/network/")),
});

export const tokens = queryOptions({
  queryKey: keys.tokens,
  queryFn: () => unwrap(client.GET("/api/tokens/")),
});

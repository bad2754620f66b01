import { queryOptions } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";

export const preferences = queryOptions({
  queryKey: keys.preferences,
  queryFn: () => unwrap(client.GET("/api/preferences/")),
  staleTime: Infinity,
});

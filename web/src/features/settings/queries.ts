import { queryOptions } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";
import { forgetLastKnown } from "../../api/lastKnown";
import { openWorkshop } from "../../domain/workshop";

export const preferences = queryOptions({
  queryKey: keys.preferences,
  queryFn: async () => {
    const found = await unwrap(client.GET("/api/preferences/"));
    if (openWorkshop(found.workshop)) await forgetLastKnown();
    return found;
  },
  staleTime: Infinity,
});

export const backups = queryOptions({
  queryKey: keys.backups,
  queryFn: () => unwrap(client.GET("/api/backups/")),
});

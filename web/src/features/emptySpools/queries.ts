import { keepPreviousData, queryOptions, skipToken } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";
import type { components } from "../../api/schema";

export type LookedEmpties = components["schemas"]["EmptyTable"];
export type EmptyColumns = LookedEmpties["columns"];

/** What is read of a list of empty spools, before it is taken over; nothing is asked while there is none. */
export const lookAtEmpties = (text: string, columns: EmptyColumns) =>
  queryOptions({
    queryKey: keys.emptyTable(text, columns),
    queryFn:
      text.trim() === ""
        ? skipToken
        : () => unwrap(client.POST("/api/empty-spools/table/look/", { body: { text, columns } })),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    retry: false,
  });

import { keepPreviousData, queryOptions, skipToken } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";
import type { components } from "../../api/schema";

const MINUTE = 60_000;

export const spoolPage = (id: number) =>
  queryOptions({
    queryKey: keys.spool(id),
    queryFn: () => unwrap(client.GET("/api/spools/{spool_id}/page/", { params: { path: { spool_id: id } } })),
    refetchInterval: 5 * MINUTE,
  });

export const label = (id: number) =>
  queryOptions({
    queryKey: keys.label(id),
    queryFn: () =>
      unwrap(client.GET("/api/spools/{spool_id}/label/", { params: { path: { spool_id: id } } })),
    staleTime: Infinity,
  });

export const emptySpools = queryOptions({
  queryKey: keys.emptySpools,
  queryFn: () => unwrap(client.GET("/api/empty-spools/")),
  staleTime: Infinity,
});

/** The coils that were cut off a spool. */
export const coils = (spool: number) =>
  queryOptions({
    queryKey: keys.coilsOf(spool),
    queryFn: () =>
      unwrap(client.GET("/api/spools/{spool_id}/coils/", { params: { path: { spool_id: spool } } })),
  });

/** The spools that were taken off the rack. */
export const archived = queryOptions({
  queryKey: keys.archived,
  queryFn: () => unwrap(client.GET("/api/archived-spools/")),
});

export type LookedTable = components["schemas"]["SpoolTable"];

/** What is read of a table, before anything is added; nothing is asked while there is no text. */
export const lookAtTable = (text: string, columns: LookedTable["columns"]) =>
  queryOptions({
    queryKey: keys.spoolTable(text, columns),
    queryFn:
      text.trim() === ""
        ? skipToken
        : () => unwrap(client.POST("/api/spools/table/look/", { body: { text, columns } })),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    retry: false,
  });

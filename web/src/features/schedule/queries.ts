import { queryOptions } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";
import type { paths } from "../../api/schema";
import { zone } from "../../domain/times";

const MINUTE = 60_000;

export const schedule = queryOptions({
  queryKey: keys.schedule(zone),
  queryFn: () => unwrap(client.GET("/api/schedule/", { params: { query: { zone } } })),
  refetchInterval: 5 * MINUTE,
});

export type WhatIfQuery = paths["/api/schedule/what-if/"]["get"]["parameters"]["query"];

/** What the schedule would come to with a change; asked for when somebody wants to know. */
export const whatIf = (query: WhatIfQuery) =>
  queryOptions({
    queryKey: keys.whatIf(query),
    queryFn: () => unwrap(client.GET("/api/schedule/what-if/", { params: { query } })),
    staleTime: 5 * MINUTE,
    retry: false,
  });

/** What a print’s file takes of each spool on the rack. */
export const printTakes = (file: number) =>
  queryOptions({
    queryKey: keys.printTakes(file),
    queryFn: () =>
      unwrap(client.GET("/api/print-files/{file_id}/takes/", { params: { path: { file_id: file } } })),
  });

/** What the schedule has loaded within a day, for reminders. */
export const nextStarts = queryOptions({
  queryKey: keys.nextStarts,
  queryFn: () => unwrap(client.GET("/api/schedule/next/")),
  refetchInterval: 5 * MINUTE,
});

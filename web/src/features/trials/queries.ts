import { keepPreviousData, queryOptions, skipToken } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";
import type { paths } from "../../api/schema";

export const trials = queryOptions({
  queryKey: keys.trials,
  queryFn: () => unwrap(client.GET("/api/trials/")),
});

export const trial = (id: number) =>
  queryOptions({
    queryKey: keys.trial(id),
    queryFn: () => unwrap(client.GET("/api/trials/{trial_id}/", { params: { path: { trial_id: id } } })),
    placeholderData: keepPreviousData,
  });

export type DesignQuery = paths["/api/trials/design/"]["get"]["parameters"]["query"];

/** What a lot that somebody thinks of would tell; nothing is asked while something is missing. */
export const design = (query: DesignQuery | null) =>
  queryOptions({
    queryKey: keys.trialDesign(query ?? {}),
    queryFn:
      query === null ? skipToken : () => unwrap(client.GET("/api/trials/design/", { params: { query } })),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    retry: false,
  });

/** The fewest prints that tell the threshold of a spool's material; nothing is asked before one is chosen. */
export const ladderDesign = (spool: number | undefined) =>
  queryOptions({
    queryKey: keys.trialDesign({ ladder: spool }),
    queryFn:
      spool === undefined
        ? skipToken
        : () => unwrap(client.GET("/api/ladders/design/", { params: { query: { spool } } })),
    staleTime: 60_000,
    retry: false,
  });

/** What pieces of a length, each read so many times, will show of swelling; nothing is asked before a spool is chosen. */
export const swellingDesign = (
  spool: number | undefined,
  query: { pieces: number; readings: number; length_mm: string },
) =>
  queryOptions({
    queryKey: keys.trialDesign({ swelling: spool, ...query }),
    queryFn:
      spool === undefined
        ? skipToken
        : () =>
            unwrap(client.GET("/api/trials/swelling-design/", { params: { query: { spool, ...query } } })),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    retry: false,
  });

/** Which slip gives a percentage that somebody got. */
export const slip = (id: number, typed: string) =>
  queryOptions({
    queryKey: keys.trialSlip(id, typed),
    queryFn: () =>
      unwrap(
        client.GET("/api/trials/{trial_id}/slip/", {
          params: { path: { trial_id: id }, query: { typed_pct: typed } },
        }),
      ),
    enabled: typed !== "",
    retry: false,
  });

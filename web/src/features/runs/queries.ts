import { keepPreviousData, queryOptions, skipToken } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";
import type { components } from "../../api/schema";

const MINUTE = 60_000;

export const runs = queryOptions({
  queryKey: keys.runs,
  queryFn: () => unwrap(client.GET("/api/runs/")),
});

/** Those that go on, for reminders. */
export const runningRuns = queryOptions({
  queryKey: keys.runningRuns,
  queryFn: () => unwrap(client.GET("/api/runs/", { params: { query: { running: true } } })),
  refetchInterval: MINUTE,
});

export const runAir = (id: number) =>
  queryOptions({
    queryKey: keys.runAir(id),
    queryFn: () => unwrap(client.GET("/api/runs/{run_id}/air/", { params: { path: { run_id: id } } })),
    refetchInterval: 10_000,
  });

/** What the loggers in a run's dryer tell of the dryer. */
export const runHabits = (id: number) =>
  queryOptions({
    queryKey: keys.runHabits(id),
    queryFn: () => unwrap(client.GET("/api/runs/{run_id}/habits/", { params: { path: { run_id: id } } })),
    refetchInterval: 10 * MINUTE,
  });

export const run = (id: number) =>
  queryOptions({
    queryKey: keys.run(id),
    queryFn: () => unwrap(client.GET("/api/runs/{run_id}/", { params: { path: { run_id: id } } })),
    refetchInterval: MINUTE,
  });

export type LookedRuns = components["schemas"]["PastTable"];
export type PastedRuns = components["schemas"]["PastedRunsRequest"];
export type RunsGuess = Required<Pick<PastedRuns, "columns" | "order">>;

/** What is read of a table of past runs, before anything is added; nothing is asked while there is none. */
export const lookAtPastRuns = (pasted: PastedRuns) =>
  queryOptions({
    queryKey: keys.pastRuns(pasted),
    queryFn:
      pasted.text.trim() === ""
        ? skipToken
        : () => unwrap(client.POST("/api/runs/table/look/", { body: pasted })),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    retry: false,
  });

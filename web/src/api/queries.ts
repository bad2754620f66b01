import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { client, unwrap } from "./client";

const MINUTE = 60_000;

export const room = queryOptions({
  queryKey: ["room"],
  queryFn: () => unwrap(client.GET("/api/room/")),
  refetchInterval: 5 * MINUTE,
});

export const lanes = queryOptions({
  queryKey: ["lanes"],
  queryFn: () => unwrap(client.GET("/api/lanes/")),
  refetchInterval: 5 * MINUTE,
});

export const dryers = queryOptions({
  queryKey: ["dryers"],
  queryFn: () => unwrap(client.GET("/api/dryers/")),
  staleTime: Infinity,
});

export const scales = queryOptions({
  queryKey: ["scales"],
  queryFn: () => unwrap(client.GET("/api/scales/")),
  staleTime: Infinity,
});

export type School = "gentle" | "usual" | "brisk";

export interface PlanQuery {
  spool: number;
  dryer: number;
  school: School;
  form?: "wound" | "loose";
  temp_c?: string;
  duration_h?: string;
}

export const plan = (query: PlanQuery) =>
  queryOptions({
    queryKey: ["plan", query],
    queryFn: () => unwrap(client.GET("/api/plan/", { params: { query } })),
    placeholderData: keepPreviousData,
    retry: false,
  });

export const runs = queryOptions({
  queryKey: ["runs"],
  queryFn: () => unwrap(client.GET("/api/runs/")),
});

export const run = (id: number) =>
  queryOptions({
    queryKey: ["run", id],
    queryFn: () => unwrap(client.GET("/api/runs/{run_id}/", { params: { path: { run_id: id } } })),
    refetchInterval: MINUTE,
  });

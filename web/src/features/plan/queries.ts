import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";
import type { components } from "../../api/schema";
import { withOffset } from "../../domain/times";

const MINUTE = 60_000;

export type Method = components["schemas"]["MethodEnum"];

export interface SetupQuery {
  spool: number;
  /** The best one where none is given. */
  dryer?: number;
  co_dried?: string;
  form?: "wound" | "loose";
  aim_pct?: string;
  temp_c?: string;
  duration_h?: string;
}

export interface PlanQuery extends SetupQuery {
  /** The usual one, or the one that gets there, where none is given. */
  method?: Method;
  ready_in_h?: string;
}

export const plan = (query: PlanQuery) =>
  queryOptions({
    queryKey: keys.plan(query),
    queryFn: () =>
      unwrap(client.GET("/api/plan/", { params: { query: { ...query, start: withOffset(new Date()) } } })),
    placeholderData: keepPreviousData,
    retry: false,
  });

/** What else could do it: asked for where the plan says that this dryer cannot. */
export const alternatives = (query: SetupQuery) =>
  queryOptions({
    queryKey: keys.alternatives(query),
    queryFn: () => unwrap(client.GET("/api/plan/alternatives/", { params: { query } })),
    retry: false,
  });

/** The map holds every temperature and hour, so a moved pin asks for none. */
export const planMap = (query: SetupQuery) =>
  queryOptions({
    queryKey: keys.map(query),
    queryFn: () => unwrap(client.GET("/api/plan/map/", { params: { query } })),
    placeholderData: keepPreviousData,
    staleTime: 5 * MINUTE,
    retry: false,
  });

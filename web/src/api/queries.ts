import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { withOffset } from "../format/times";
import { setUnits } from "../format/units";
import { client, unwrap } from "./client";
import type { components } from "./schema";

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

export type Span = "day" | "week" | "weeks" | "season";

export const rack = (span: Span) =>
  queryOptions({
    queryKey: ["rack", span],
    queryFn: () => unwrap(client.GET("/api/rack/", { params: { query: { span } } })),
    refetchInterval: 5 * MINUTE,
    placeholderData: keepPreviousData,
  });

export const spoolPage = (id: number) =>
  queryOptions({
    queryKey: ["spool", id],
    queryFn: () => unwrap(client.GET("/api/spools/{spool_id}/page/", { params: { path: { spool_id: id } } })),
    refetchInterval: 5 * MINUTE,
  });

export const label = (id: number) =>
  queryOptions({
    queryKey: ["label", id],
    queryFn: () =>
      unwrap(client.GET("/api/spools/{spool_id}/label/", { params: { path: { spool_id: id } } })),
    staleTime: Infinity,
  });

export const keep = queryOptions({
  queryKey: ["keep"],
  queryFn: () => unwrap(client.GET("/api/keep/")),
  refetchInterval: 5 * MINUTE,
});

/** What a logger in a container tells of its ingress; null where none does. */
export const loggedIngress = (place: number) =>
  queryOptions({
    queryKey: ["ingress", place],
    queryFn: () =>
      unwrap(client.GET("/api/places/{place_id}/ingress/", { params: { path: { place_id: place } } })),
    staleTime: 5 * MINUTE,
  });

export const places = queryOptions({
  queryKey: ["places"],
  queryFn: () => unwrap(client.GET("/api/places/")),
  staleTime: Infinity,
});

export const bodies = queryOptions({
  queryKey: ["bodies"],
  queryFn: () => unwrap(client.GET("/api/bodies/")),
  staleTime: Infinity,
});

export const months = queryOptions({
  queryKey: ["months"],
  queryFn: () => unwrap(client.GET("/api/room/months/")),
  staleTime: Infinity,
});

export const dryers = queryOptions({
  queryKey: ["dryers"],
  queryFn: () => unwrap(client.GET("/api/dryers/")),
  staleTime: Infinity,
});

export const devices = queryOptions({
  queryKey: ["devices"],
  queryFn: () => unwrap(client.GET("/api/devices/")),
  refetchInterval: MINUTE,
});

export const scales = queryOptions({
  queryKey: ["scales"],
  queryFn: () => unwrap(client.GET("/api/scales/")),
  staleTime: Infinity,
});

export type Way = components["schemas"]["WayEnum"];

export interface SetupQuery {
  spool: number;
  dryer: number;
  company?: string;
  form?: "wound" | "loose";
  aim_pct?: string;
  temp_c?: string;
  duration_h?: string;
}

export interface PlanQuery extends SetupQuery {
  way: Way;
  ready_in_h?: string;
}

export const plan = (query: PlanQuery) =>
  queryOptions({
    queryKey: ["plan", query],
    queryFn: () =>
      unwrap(client.GET("/api/plan/", { params: { query: { ...query, start: withOffset(new Date()) } } })),
    placeholderData: keepPreviousData,
    retry: false,
  });

/** The map holds every temperature and hour, so a moved pin asks for none. */
export const planMap = (query: SetupQuery) =>
  queryOptions({
    queryKey: ["map", query],
    queryFn: () => unwrap(client.GET("/api/plan/map/", { params: { query } })),
    placeholderData: keepPreviousData,
    staleTime: 5 * MINUTE,
    retry: false,
  });

export const materials = queryOptions({
  queryKey: ["materials"],
  queryFn: () => unwrap(client.GET("/api/materials/")),
  staleTime: Infinity,
});

export const dryerKinds = queryOptions({
  queryKey: ["dryer kinds"],
  queryFn: () => unwrap(client.GET("/api/dryer-kinds/")),
  staleTime: Infinity,
});

export const preferences = queryOptions({
  queryKey: ["preferences"],
  queryFn: async () => {
    const mine = await unwrap(client.GET("/api/preferences/"));
    setUnits({ temp: mine.temp_unit, mass: mine.mass_unit, length: mine.length_unit, clock: mine.clock });
    return mine;
  },
  staleTime: Infinity,
});

export const runs = queryOptions({
  queryKey: ["runs"],
  queryFn: () => unwrap(client.GET("/api/runs/")),
});

/** Those that go on, for reminders. */
export const runningRuns = queryOptions({
  queryKey: ["runs", "running"],
  queryFn: () => unwrap(client.GET("/api/runs/", { params: { query: { running: true } } })),
  refetchInterval: MINUTE,
});

export const runAir = (id: number) =>
  queryOptions({
    queryKey: ["run", id, "air"],
    queryFn: () => unwrap(client.GET("/api/runs/{run_id}/air/", { params: { path: { run_id: id } } })),
    refetchInterval: 10_000,
  });

/** What a scale shows that sends its own readings; null where none is heard. */
export const liveMass = (scale: number) =>
  queryOptions({
    queryKey: ["live", scale],
    queryFn: () =>
      unwrap(client.GET("/api/scales/{scale_id}/live/", { params: { path: { scale_id: scale } } })),
    refetchInterval: 1000,
    enabled: scale > 0,
    retry: false,
  });

export const run = (id: number) =>
  queryOptions({
    queryKey: ["run", id],
    queryFn: () => unwrap(client.GET("/api/runs/{run_id}/", { params: { path: { run_id: id } } })),
    refetchInterval: MINUTE,
  });

export const cases = queryOptions({
  queryKey: ["cases"],
  queryFn: () => unwrap(client.GET("/api/cases/")),
});

export const casePage = (id: number) =>
  queryOptions({
    queryKey: ["case", id],
    queryFn: () => unwrap(client.GET("/api/cases/{case_id}/", { params: { path: { case_id: id } } })),
  });

/** Prints, newest first: of one spool, or of all. */
export const prints = (spool: number | null) =>
  queryOptions({
    queryKey: ["prints", spool],
    queryFn: () => unwrap(client.GET("/api/prints/", { params: { query: spool === null ? {} : { spool } } })),
  });

export const evidenceTable = (material: string) =>
  queryOptions({
    queryKey: ["evidence", material],
    queryFn: () => unwrap(client.GET("/api/evidence/", { params: { query: { material } } })),
    placeholderData: keepPreviousData,
  });

export const practice = queryOptions({
  queryKey: ["practice"],
  queryFn: () => unwrap(client.GET("/api/practice/")),
});

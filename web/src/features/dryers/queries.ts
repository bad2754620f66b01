import { keepPreviousData, queryOptions, skipToken } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";
import type { components, paths } from "../../api/schema";

export type Compared = components["schemas"]["DryersCompared"];
export type Row = Compared["rows"][number];
export type Cell = Row["cells"][number];

/** What is typed of a dryer that is thought of. */
export type Another = NonNullable<paths["/api/dryers/compared/"]["get"]["parameters"]["query"]>;

export const compared = (another: Another) =>
  queryOptions({
    queryKey: keys.comparedDryers(another),
    queryFn: () => unwrap(client.GET("/api/dryers/compared/", { params: { query: another } })),
    placeholderData: keepPreviousData,
    retry: false,
  });

/** A box that somebody means to build. */
export type Built = NonNullable<paths["/api/dryers/home-built/"]["get"]["parameters"]["query"]>;
export type Warmth = components["schemas"]["Warmth"];

export const homeBuilt = (box: Built | undefined) =>
  queryOptions({
    queryKey: keys.homeBuilt(box ?? {}),
    queryFn: box
      ? () => unwrap(client.GET("/api/dryers/home-built/", { params: { query: box } }))
      : skipToken,
    placeholderData: keepPreviousData,
    retry: false,
  });

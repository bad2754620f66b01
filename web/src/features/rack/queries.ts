import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";

const MINUTE = 60_000;

export const lanes = queryOptions({
  queryKey: keys.lanes,
  queryFn: () => unwrap(client.GET("/api/lanes/")),
  refetchInterval: 5 * MINUTE,
});

export type Span = "day" | "week" | "weeks" | "season";

export const rack = (span: Span) =>
  queryOptions({
    queryKey: keys.rack(span),
    queryFn: () => unwrap(client.GET("/api/rack/", { params: { query: { span } } })),
    refetchInterval: 5 * MINUTE,
    placeholderData: keepPreviousData,
  });

import { infiniteQueryOptions, queryOptions } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";

/** Pages of the history, newest first. */
export const history = (find: string) =>
  infiniteQueryOptions({
    queryKey: keys.historyOf(find),
    queryFn: ({ pageParam }) =>
      unwrap(
        client.GET("/api/history/", {
          params: { query: { find, ...(pageParam !== null && { before: pageParam }) } },
        }),
      ),
    initialPageParam: null as number | null,
    getNextPageParam: (page) => (page.length < PAGE ? null : (page.at(-1)?.id ?? null)),
    staleTime: 0,
  });

/** As many entries as the server gives at once. */
const PAGE = 60;

/** What an entry changed. */
export const changes = (entry: number) =>
  queryOptions({
    queryKey: keys.historyEntry(entry),
    queryFn: () => unwrap(client.GET("/api/history/{entry_id}/", { params: { path: { entry_id: entry } } })),
    staleTime: Infinity,
  });

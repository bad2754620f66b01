import { type QueryClient, useMutation, useQueryClient } from "@tanstack/react-query";
import type { Key } from "./keys";

interface Effects<Given, Answer> {
  /** The queries whose answers may differ now. */
  refreshes: Key[] | ((given: Given, queries: QueryClient) => Key[]);
  /** Puts what the server answered on the screen at once. */
  takes?: (queries: QueryClient, answer: Answer, given: Given) => void;
}

/** A write. It is done when the server has answered; what it refreshes is then asked for again, and nobody waits for
 * that. A first load that was already on its way is dropped and begun again: it may have been read before the write. */
export function useAct<Given, Answer>(
  act: (given: Given) => Promise<Answer>,
  { refreshes, takes }: Effects<Given, Answer>,
) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: act,
    onSuccess: async (answer, given) => {
      const stale = typeof refreshes === "function" ? refreshes(given, queries) : refreshes;
      await Promise.all(stale.map((queryKey) => queries.cancelQueries({ queryKey })));
      takes?.(queries, answer, given);
      void Promise.all(stale.map((queryKey) => queries.invalidateQueries({ queryKey })));
    },
    retry: false,
  });
}

interface Item {
  id: number | string;
}

/** Puts one record of an answer into a list that is kept under a key, in place of the one with its id. */
export function takeInto(queries: QueryClient, key: Key, item: Item) {
  queries.setQueryData<Item[]>(key, (list) => {
    if (!list) return list;
    return list.some((one) => one.id === item.id)
      ? list.map((one) => (one.id === item.id ? item : one))
      : [...list, item];
  });
}

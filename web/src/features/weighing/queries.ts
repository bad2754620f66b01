import { keepPreviousData, queryOptions, skipToken } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";
import type { components } from "../../api/schema";

export type LookedWeighings = components["schemas"]["WeighingTable"];
export type PastedWeighings = components["schemas"]["PastedWeighingsRequest"];
export type Guess = Required<Pick<PastedWeighings, "columns" | "order">>;

/** What is read of a table of weighings, before anything is added; nothing is asked while there is none. */
export const lookAtWeighings = (pasted: PastedWeighings) =>
  queryOptions({
    queryKey: keys.weighingTable(pasted),
    queryFn:
      pasted.text.trim() === ""
        ? skipToken
        : () => unwrap(client.POST("/api/weighings/table/look/", { body: pasted })),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    retry: false,
  });

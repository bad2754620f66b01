import { queryOptions } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";

export interface Operation {
  description?: string;
  parameters?: { name: string; in: string; required?: boolean }[];
}

export interface Contract {
  info: { version: string; description: string };
  paths: Record<string, Record<string, Operation>>;
}

/** The contract as the server has it. */
export const contract = queryOptions({
  queryKey: keys.contract,
  queryFn: async (): Promise<Contract> => {
    // The contract does not describe itself.
    const answer = await fetch("/api/schema/?format=json");
    if (!answer.ok) throw new Error("The contract could not be loaded.");
    return (await answer.json()) as Contract;
  },
  staleTime: Infinity,
});

export const tables = queryOptions({
  queryKey: keys.tables,
  queryFn: () => unwrap(client.GET("/api/tables/")),
  staleTime: Infinity,
});

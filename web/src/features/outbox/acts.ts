import { useAct } from "../../api/act";
import { ACT, WORKSHOP, client, unwrap } from "../../api/client";
import { EVERYTHING } from "../../api/keys";
import type { components } from "../../api/schema";
import type { Waiting } from "./outbox";

type Schemas = components["schemas"];

interface Done {
  undo: number | null;
  /** Of a move: the spools that were moved again after it. */
  moved_on?: string[];
}

/** Sends what waited. Each kind has its own address and body; all answer with the entry that undoes them. */
export const useSendLater = () =>
  useAct(
    ({ key, path, body, workshop }: Waiting): Promise<Done> =>
      unwrap(
        client.POST(path as "/api/stays/", {
          body: body as Schemas["MoveRequest"],
          headers: { [ACT]: key, ...(workshop ? { [WORKSHOP]: workshop } : {}) },
        }),
      ),
    { refreshes: EVERYTHING },
  );

import type { RunSheet } from "../../api/client";
import type { components } from "../../api/schema";
import { useShell } from "../../components/shell";
import { clock } from "../../domain/times";
import { useOrLater } from "../outbox/useOrLater";
import { useNoteEvent } from "./acts";
import { EVENT_WORDS } from "./words";

/** Notes what happened in a run, and says so; where the server is away it is sent later. Throws what it refuses. */
export function useNote(run: RunSheet["run"]) {
  const { notify } = useShell();
  const event = useNoteEvent();
  const orLater = useOrLater();
  const note = async (body: components["schemas"]["WriteEventRequest"]) => {
    const [key, at] = [crypto.randomUUID(), body.at ?? new Date().toISOString()];
    const words = EVENT_WORDS[body.kind];
    const done = await orLater(
      () => event.mutateAsync({ run: run.id, body, key }),
      { key, path: `/api/runs/${run.id}/events/`, body: { ...body, at } },
      `${run.spool.name}: ${words} at ${clock(new Date(at))}`,
    );
    if (done) notify({ text: `Noted: ${words}.`, undo: done.undo });
  };
  return { note, busy: event.isPending, error: event.error };
}

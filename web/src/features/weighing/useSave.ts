import { useNavigate } from "react-router";
import { type Lane } from "../../api/client";
import { batchOf, useStartRun } from "../plan/acts";
import { namesOf } from "../plan/words";
import { useEndRun } from "../runs/acts";
import { type Reading, useSaveWeighing } from "./acts";
import { massAsRead } from "../../domain/quantities";
import { clock } from "../../domain/times";
import { isForLater, keepForLater, WEIGHINGS } from "../outbox/outbox";
import { KEPT_NOWHERE, WHERE_KEPT } from "../outbox/useOrLater";
import { type Intent, useShell } from "../../components/shell";

interface Weighed {
  lane: Lane;
  reading: Reading;
}

interface Given {
  /** The spool that the slip is for first, then what is weighed with it. */
  weighed: [Weighed, ...Weighed[]];
  at: string | null;
}

const AFTER = {
  keep: "",
  start: " The run has not started: start it once Darre is back.",
  end: " The run has not ended: end it once Darre is back.",
};

/** Sends a slip to the act it is for, and says what came of it; throws what the server refuses. `onKept` runs once the server has stored it, or, where
 * the server is away, once the weigh-in is saved in this browser. */
export function useSave(intent: Intent, onKept: () => void) {
  const keep = useSaveWeighing();
  const start = useStartRun();
  const end = useEndRun();
  const navigate = useNavigate();
  const { notify } = useShell();

  const done = (text: string, undo: number | null, run?: number) => {
    onKept();
    notify({ text, undo });
    if (run !== undefined) void navigate(`/runs/${run}`);
  };

  async function send({ weighed, at }: Given) {
    const when = at === null ? {} : { at };
    const [{ lane, reading }] = weighed;
    const { name } = lane.spool;
    if (intent.kind === "keep") {
      const answer = await keep.mutateAsync({ ...reading, spool: lane.spool.id, ...when });
      done(`Saved ${massAsRead(answer.weighing.gross_g)} for ${name}.`, answer.undo);
    } else if (intent.kind === "start") {
      const { plan, ticket, reason } = intent;
      const answer = await start.mutateAsync({
        ...batchOf(plan, ticket, reason),
        readings: weighed.map(({ lane, reading }) => ({ ...reading, spool: lane.spool.id })),
        client_key: reading.client_key,
        ...when,
      });
      done(`Weighed and started drying ${namesOf(plan.lanes)}.`, answer.undo, answer.runs[0]?.id);
    } else {
      const answer = await end.mutateAsync({
        run: intent.run.id,
        weigh_out: reading,
        left_in: false,
        ...when,
      });
      done(`Weighed ${name} and ended drying.`, answer.undo, answer.run.id);
    }
  }

  return async (given: Given) => {
    try {
      await send(given);
    } catch (error) {
      if (!isForLater(error)) throw error;
      const at = given.at ?? new Date().toISOString();
      const kept = given.weighed.map(({ lane, reading }) => {
        const read = massAsRead(Number(String(reading.gross_g).replace(",", ".")));
        const told = `${lane.spool.name}, ${read} at ${clock(new Date(at))}`;
        const body = { ...reading, spool: lane.spool.id, at };
        return { told, safe: keepForLater({ key: reading.client_key, path: WEIGHINGS, body, told }) };
      });
      const are = kept.length > 1 ? "are" : "is";
      const where = kept.every(({ safe }) => safe) ? WHERE_KEPT : KEPT_NOWHERE;
      done(
        `Darre does not answer. ${kept.map(({ told }) => told).join("; ")} ${are} ${where}.${AFTER[intent.kind]}`,
        null,
      );
    }
  };
}

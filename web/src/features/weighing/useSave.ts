import { useNavigate } from "react-router";
import { ApiError, type Lane } from "../../api/client";
import { runOf, useStartRun } from "../plan/acts";
import { useEndRun } from "../runs/acts";
import { type Reading, useSaveWeighing } from "./acts";
import { massAsRead } from "../../domain/quantities";
import { clock } from "../../domain/times";
import { keepForLater } from "./outbox";
import { type Intent, useShell } from "../../components/shell";

interface Given {
  lane: Lane;
  reading: Reading;
  at: string | null;
}

const AFTER = {
  keep: "",
  start: " The run has not started: start it once Darre is back.",
  end: " The run has not ended: end it once Darre is back.",
};

/** Sends a slip to the act it is for, and says what came of it. `onKept` runs once the server has stored it, or, where
 * the server is away, once the weigh-in is saved in this browser. */
export function useSave(intent: Intent, onKept: () => void) {
  const keep = useSaveWeighing();
  const start = useStartRun();
  const end = useEndRun();
  const navigate = useNavigate();
  const { notify, weigh } = useShell();
  const acts = [keep, start, end];

  function submit({ lane, reading, at }: Given) {
    const when = at === null ? {} : { at };
    const done = (text: string, undo: number | null, run?: number) => {
      onKept();
      notify({ text, undo });
      if (run !== undefined) void navigate(`/runs/${run}`);
    };
    const { name } = lane.spool;
    const onError = (error: Error) => {
      if (!(error instanceof ApiError) || error.code !== "unreachable") return;
      const weighed = at ?? new Date().toISOString();
      const read = massAsRead(Number(String(reading.gross_g).replace(",", ".")));
      const told = `${name}, ${read} at ${clock(new Date(weighed))}`;
      keepForLater({ body: { ...reading, spool: lane.spool.id, at: weighed }, told });
      done(`Darre does not answer. ${told} is saved in this browser.${AFTER[intent.kind]}`, null);
    };
    if (intent.kind === "keep") {
      keep.mutate(
        { ...reading, spool: lane.spool.id, ...when },
        {
          onSuccess: (answer) => {
            done(`Saved ${massAsRead(answer.weighing.gross_g)} for ${name}.`, answer.undo);
          },
          onError,
        },
      );
    } else if (intent.kind === "start") {
      const { plan, ticket, member, reason } = intent;
      const last = member + 1 >= plan.lanes.length;
      start.mutate(
        {
          ...runOf(plan, ticket, lane.spool.id, reason),
          weigh_in: reading,
          client_key: reading.client_key,
          ...when,
        },
        {
          onSuccess: (answer) => {
            done(`Weighed ${name} and started drying.`, answer.undo, last ? answer.run.id : undefined);
            if (!last) weigh({ ...intent, member: member + 1 });
          },
          onError,
        },
      );
    } else {
      end.mutate(
        { run: intent.run.id, weigh_out: reading, ...when },
        {
          onSuccess: (answer) => {
            done(`Weighed ${name} and ended drying.`, answer.undo, answer.run.id);
          },
          onError,
        },
      );
    }
  }

  const failed = acts.find((act) => act.error)?.error;
  return {
    submit,
    busy: acts.some((act) => act.isPending),
    error:
      failed instanceof ApiError ? failed : failed ? new ApiError("failed", failed.message, null, 0) : null,
    forget: () => {
      acts.forEach((act) => {
        act.reset();
      });
    },
  };
}

import { useNavigate } from "react-router";
import { ApiError, type Lane } from "../../api/client";
import { type Reading, useEndRun, useKeepWeighing, useStartRun } from "../../api/mutations";
import { massAsRead } from "../../format/quantities";
import { clock } from "../../format/times";
import { keepForLater } from "../../outbox/outbox";
import { type Intent, useShell } from "../../shell/shell";

interface Given {
  lane: Lane;
  reading: Reading;
  at: string | null;
}

const AFTER = {
  keep: "",
  start: " The run is not started: start it once Darre is back.",
  end: " The run is not ended: end it once Darre is back.",
};

/** Sends a slip to the act it is for, and says what came of it. `onKept` runs once the server has stored it, or, where
 * the server is away, once the weigh-in is kept in this browser. */
export function useKeep(intent: Intent, onKept: () => void) {
  const keep = useKeepWeighing();
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
      done(`Darre does not answer. ${told} is kept in this browser.${AFTER[intent.kind]}`, null);
    };
    if (intent.kind === "keep") {
      keep.mutate(
        { ...reading, spool: lane.spool.id, ...when },
        {
          onSuccess: (answer) => {
            done(`Kept ${massAsRead(answer.weighing.gross_g)} for ${name}.`, answer.undo);
          },
          onError,
        },
      );
    } else if (intent.kind === "start") {
      const { plan, ticket, member, reason } = intent;
      const last = member + 1 >= plan.lanes.length;
      start.mutate(
        {
          spool: lane.spool.id,
          dryer: plan.dryer.id,
          school: plan.way,
          form: plan.form,
          temp_c: ticket.air_c,
          duration_h: ticket.duration_h,
          override_reason: reason,
          weigh_in: reading,
          client_key: reading.client_key,
          ...when,
        },
        {
          onSuccess: (answer) => {
            done(`Weighed in and started drying ${name}.`, answer.undo, last ? answer.run.id : undefined);
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
            done(`Weighed out and ended drying ${name}.`, answer.undo, answer.run.id);
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

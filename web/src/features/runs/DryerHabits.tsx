import { useQuery } from "@tanstack/react-query";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { useUseHabits, useWindingProbe } from "./acts";
import { habitsWords, warmsWords } from "./airWords";
import { runHabits } from "./queries";

/** What the log tells of the dryer itself, and taking it into the dryer's record. */
export function DryerHabits({ run, dryer }: { run: number; dryer: string }) {
  const answer = useQuery(runHabits(run)).data;
  const told = answer?.heard;
  const take = useUseHabits();
  const { notify } = useShell();
  const probe = answer && <WindingProbe run={run} loggers={answer.loggers} times={answer.warms_times} />;
  if (!told) return probe ?? null;
  return (
    <section aria-label={`Habits of ${dryer}`} className="mt-4 border-l-4 border-line pl-3">
      <p>{habitsWords(told, dryer)}</p>
      <p className="mt-1 flex flex-wrap gap-x-4 text-sm">
        <Button
          kind="link"
          disabled={take.isPending}
          onClick={() => {
            take.mutate(run, {
              onSuccess: ({ undo }) => {
                notify({ text: `Plans in ${dryer} count with it from now on.`, undo });
              },
            });
          }}
        >
          use it for {dryer}
        </Button>
        {take.error && (
          <span role="alert" className="font-bold text-heat">
            {take.error.message}
          </span>
        )}
      </p>
      {probe}
    </section>
  );
}

interface ProbeProps {
  run: number;
  loggers: readonly { id: number; name: string }[];
  times: number | null;
}

/** Whether a logger’s probe sits in the winding, and what it tells. */
function WindingProbe({ run, loggers, times }: ProbeProps) {
  const set = useWindingProbe();
  const { notify } = useShell();
  if (loggers.length === 0 && times === null) return null;
  const choose = (device: number | null, text: string) => () => {
    set.mutate(
      { run, device },
      {
        onSuccess: ({ undo }) => {
          notify({ text, undo });
        },
      },
    );
  };
  return (
    <p className="mt-1 flex flex-wrap gap-x-4 text-sm">
      {times === null ? (
        loggers.map((logger) => (
          <Button
            key={logger.id}
            kind="link"
            disabled={set.isPending}
            onClick={choose(logger.id, `The run goes by ${logger.name} in the winding.`)}
          >
            go by {logger.name}: its probe is in the winding
          </Button>
        ))
      ) : (
        <>
          <span>{warmsWords(times)}</span>
          <Button
            kind="link"
            disabled={set.isPending}
            onClick={choose(null, "The run goes by the usual warming again.")}
          >
            the probe is not in the winding
          </Button>
        </>
      )}
      {set.error && (
        <span role="alert" className="font-bold text-heat">
          {set.error.message}
        </span>
      )}
    </p>
  );
}

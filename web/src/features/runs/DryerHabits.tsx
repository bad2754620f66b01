import { useQuery } from "@tanstack/react-query";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { useUseHabits } from "./acts";
import { habitsWords } from "./airWords";
import { runHabits } from "./queries";

/** What the log tells of the dryer itself, and taking it into the dryer's record. */
export function DryerHabits({ run, dryer }: { run: number; dryer: string }) {
  const told = useQuery(runHabits(run)).data?.heard;
  const take = useUseHabits();
  const { notify } = useShell();
  if (!told) return null;
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
    </section>
  );
}

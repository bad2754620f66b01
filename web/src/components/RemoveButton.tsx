import type { UseMutationResult } from "@tanstack/react-query";
import { Button } from "./Button";
import { useShell } from "./shell";

interface Props<Id> {
  removal: UseMutationResult<{ undo: number | null }, Error, Id>;
  id: Id;
  /** Whose button this is among others: "Remove the photo tower.jpg". */
  label: string;
  /** What is said once it is gone. */
  done: string;
  className?: string;
}

/** Removes one record of a list, says so with the way back, or says why it stays. */
export function RemoveButton<Id>({ removal, id, label, done, className = "" }: Props<Id>) {
  const { notify } = useShell();
  return (
    <Button
      kind="link"
      className={className}
      aria-label={label}
      onClick={() => {
        removal.mutate(id, {
          onSuccess: ({ undo }) => {
            notify({ text: done, undo });
          },
          onError: (error) => {
            notify({ text: error.message, undo: null });
          },
        });
      }}
    >
      remove
    </Button>
  );
}

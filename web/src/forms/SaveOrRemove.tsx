import type { UseMutationResult } from "@tanstack/react-query";
import { Button } from "../components/Button";

interface Removal {
  act: UseMutationResult<{ undo: number | null }, Error, number>;
  id: number;
  /** The words of the link: "remove it" where they are left out. */
  label?: string;
  onRemoved: (undo: number | null) => void;
  onRefused: (error: Error) => void;
}

/** Saves what a slip asks for; where it puts a record right, that can also be taken out. */
export function SaveOrRemove({ busy, removal }: { busy: boolean; removal?: Removal | undefined }) {
  return (
    <div className="flex items-center gap-4">
      <Button kind="primary" type="submit" disabled={busy}>
        Save
      </Button>
      {removal && (
        <Button
          kind="link"
          onClick={() => {
            removal.act.mutate(removal.id, {
              onSuccess: ({ undo }) => {
                removal.onRemoved(undo);
              },
              onError: removal.onRefused,
            });
          }}
        >
          {removal.label ?? "remove it"}
        </Button>
      )}
    </div>
  );
}

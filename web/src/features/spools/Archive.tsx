import { useState } from "react";
import * as z from "zod";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { NumberField } from "../../forms/fields";
import { maybeQuantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { useRestoreSpool, useUseUp } from "./acts";

interface Props {
  spool: { id: number; name: string; archived_at: string | null };
}

/** Takes a spool that is used up off the rack, or puts it there again. */
export function ArchiveButton({ spool }: Props) {
  const { notify } = useShell();
  const restore = useRestoreSpool();
  const [asking, setAsking] = useState(false);
  if (spool.archived_at === null)
    return (
      <>
        <Button
          kind="link"
          onClick={() => {
            setAsking(true);
          }}
        >
          it is used up: take it off the rack
        </Button>
        {asking && (
          <UsedUpSlip
            spool={spool}
            onClose={() => {
              setAsking(false);
            }}
          />
        )}
      </>
    );
  return (
    <Button
      kind="link"
      disabled={restore.isPending}
      onClick={() => {
        restore.mutate(spool.id, {
          onSuccess: ({ undo }) => {
            notify({ text: `${spool.name} is on the rack again.`, undo });
          },
          onError: ({ message }) => {
            notify({ text: message, undo: null });
          },
        });
      }}
    >
      put it on the rack again
    </Button>
  );
}

const SHAPE = z.object({ empty_g: maybeQuantity("mass", "what the empty spool weighs", 190) });

/** The last thing that a spool can tell: what it weighs empty, for others of its make. */
function UsedUpSlip({ spool, onClose }: Props & { onClose: () => void }) {
  const { notify } = useShell();
  const useUp = useUseUp();
  const form = useActForm(SHAPE, { empty_g: "" });
  const submit = form.submit(async (body) => {
    const { undo, corrected } = await useUp.mutateAsync({ id: spool.id, body });
    onClose();
    const others = corrected.length > 0 ? ` Its empty mass is now used for ${corrected.join(", ")} too.` : "";
    notify({ text: `${spool.name} is off the rack.${others}`, undo });
  });
  return (
    <Slip title={`Is ${spool.name} used up?`} problem={form.problem} onClose={onClose} onSubmit={submit}>
      <p>It leaves the rack; its records stay.</p>
      <NumberField
        control={form.control}
        name="empty_g"
        label="The empty spool weighs"
        measure="mass"
        autoFocus
        hint="If you can weigh it: other spools of this make are then known better. Leave empty if not."
      />
      <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
        Take it off the rack
      </Button>
    </Slip>
  );
}

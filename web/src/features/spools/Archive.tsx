import { useQuery } from "@tanstack/react-query";
import { Fragment, useState } from "react";
import { Link } from "react-router";
import * as z from "zod";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { NumberField } from "../../forms/fields";
import { maybeQuantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { when } from "../../domain/times";
import { useRestoreSpool, useUseUp } from "./acts";
import { archived as archivedQuery } from "./queries";

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

/** Under the rack: what was taken off it. */
export function OffTheRack() {
  const { data: spools = [] } = useQuery(archivedQuery);
  if (spools.length === 0) return null;
  const now = new Date();
  return (
    <p className="mt-4 text-sm text-muted">
      Off the rack:{" "}
      {spools.map((spool, n) => (
        <Fragment key={spool.id}>
          {n > 0 && ", "}
          <Link to={`/spools/${spool.id}`}>{spool.name}</Link>
          {spool.archived_at && ` (${when(new Date(spool.archived_at), now)})`}
        </Fragment>
      ))}
    </p>
  );
}

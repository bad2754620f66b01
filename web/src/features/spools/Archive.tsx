import { useQuery } from "@tanstack/react-query";
import { Fragment } from "react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { when } from "../../domain/times";
import { useArchiveSpool, useRestoreSpool } from "./acts";
import { archived as archivedQuery } from "./queries";

interface Props {
  spool: { id: number; name: string; archived_at: string | null };
}

/** Takes a spool that is used up off the rack, or puts it there again. */
export function ArchiveButton({ spool }: Props) {
  const { notify } = useShell();
  const archive = useArchiveSpool();
  const restore = useRestoreSpool();
  const gone = spool.archived_at !== null;
  const act = gone ? restore : archive;
  return (
    <Button
      kind="link"
      disabled={act.isPending}
      onClick={() => {
        act.mutate(spool.id, {
          onSuccess: ({ undo }) => {
            const text = gone ? `${spool.name} is on the rack again.` : `${spool.name} is off the rack.`;
            notify({ text, undo });
          },
          onError: ({ message }) => {
            notify({ text: message, undo: null });
          },
        });
      }}
    >
      {gone ? "put it on the rack again" : "it is used up: take it off the rack"}
    </Button>
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

import { useQuery } from "@tanstack/react-query";
import { Fragment } from "react";
import { Link } from "react-router";
import { when } from "../../domain/times";
import { archived as archivedQuery } from "../spools/queries";

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

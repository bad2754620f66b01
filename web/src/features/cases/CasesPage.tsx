import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { CaseRow } from "../../api/client";
import { cases as casesQuery } from "./queries";
import { when } from "../../domain/times";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { PageHeading } from "../../components/PageHeading";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { standingLink } from "../../components/classes";
import { casesSentence, inTen, verdictSentence } from "./caseWords";

/** Bad prints and what came of them, open ones first. */
export function CasesPage() {
  const { data: rows, error, refetch } = useQuery(casesQuery);
  const { badPrint } = useShell();
  if (error && !rows) return <Trouble error={error} onRetry={refetch} />;
  if (!rows) return <Skeleton page="Cases" rows={3} height="h-16" />;
  return (
    <div>
      <div className="mb-4 flex flex-wrap items-start justify-between gap-3">
        <PageHeading page="Cases" className="min-w-0">
          {casesSentence(rows)}
        </PageHeading>
        <Button
          kind="primary"
          onClick={() => {
            badPrint();
          }}
        >
          A bad print <kbd>B</kbd>
        </Button>
      </div>
      {rows.length === 0 && (
        <p className="mb-4 max-w-prose">
          Wet filament is blamed too often and suspected too late. A case compares what you see and hear with
          the spool’s moisture, shows which check would settle it soonest, and remembers how it ended.
        </p>
      )}
      <ul className="flex flex-col gap-1.5">
        {rows.map((row) => (
          <li key={row.case.id}>
            <CaseLine row={row} />
          </li>
        ))}
      </ul>
      <p className="mt-6 flex flex-wrap gap-x-5 text-sm">
        <Link className={standingLink} to="/cases/prints">
          Prints and their files
        </Link>
        <Link className={standingLink} to="/cases/practice">
          Practise on simulated cases
        </Link>
        <Link className={standingLink} to="/cases/table">
          The evidence table
        </Link>
      </p>
    </div>
  );
}

function CaseLine({ row }: { row: CaseRow }) {
  const { evidence, verdict } = row;
  return (
    <Link
      to={`/cases/${row.case.id}`}
      className={`grid gap-x-4 bg-paper px-4 py-2.5 hover:outline-2 sm:grid-cols-[1fr_18rem_13rem] sm:items-center ${verdict ? "" : "border-l-4 border-ink"}`}
    >
      <span>
        <strong className="block">{row.case.title}</strong>
        <span className="text-sm text-muted">
          {row.case.spool_name}, {row.material_short}, printed{" "}
          {when(new Date(row.case.printed_at), new Date())}
        </span>
      </span>
      <span className="font-bold sm:text-right">{verdict ? verdictSentence(verdict) : "open"}</span>
      <span className="flex items-center gap-2 text-sm">
        <Needle p={evidence.p_water} />
        <span className="num whitespace-nowrap">{inTen(evidence.p_water)}</span>
      </span>
    </Link>
  );
}

/** The chance of water on a rule from something else to the water. */
function Needle({ p }: { p: number }) {
  return (
    <svg viewBox="0 0 64 14" aria-hidden className="w-16 shrink-0">
      <line x1="2" x2="62" y1="7" y2="7" className="stroke-line" strokeWidth="2" />
      <line x1="32" x2="32" y1="2" y2="12" className="stroke-muted" />
      <rect x={2 + 60 * p - 3} y="2" width="6" height="10" className="fill-ink" />
    </svg>
  );
}

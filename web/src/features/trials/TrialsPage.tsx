import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { TrialRow } from "../../api/client";
import { PageHeading } from "../../components/PageHeading";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { when } from "../../domain/times";
import { trials as trialsQuery } from "./queries";
import { QUESTIONS, rowSentence } from "./words";

const KINDS = Object.keys(QUESTIONS) as (keyof typeof QUESTIONS)[];

/** What do my own numbers say? The questions that can be asked, and what was told before. */
export function TrialsPage() {
  const { data: rows, error, refetch } = useQuery(trialsQuery);
  if (error && !rows) return <Trouble error={error} onRetry={refetch} />;
  if (!rows) return <Skeleton page="Trials" rows={3} height="h-16" />;
  return (
    <>
      <PageHeading page="Trials" className="mb-4">
        {rows.length === 0
          ? "Ask your own filament: a few coils and a fine scale tell."
          : "What your own trials tell, and what else can be asked."}
      </PageHeading>
      <div className="grid gap-6 lane:grid-cols-[1fr_24rem]">
        <section className="min-w-0">
          <h2 className="mb-1 text-lg">Trials</h2>
          {rows.length === 0 && (
            <p className="max-w-prose">
              None yet. What a trial tells can be used in place of the built-in values, with how sure it is.
            </p>
          )}
          <ul className="flex flex-col gap-1.5">
            {rows.map((row) => (
              <li key={row.id}>
                <TrialLine row={row} />
              </li>
            ))}
          </ul>
        </section>
        <section>
          <h2 className="mb-1 text-lg">Begin with a question</h2>
          <ul className="flex flex-col gap-1.5">
            {KINDS.map((kind) => (
              <li key={kind}>
                <Link to={`/trials/new?kind=${kind}`} className="block bg-paper p-3">
                  <span className="font-bold underline underline-offset-2">{QUESTIONS[kind].question}</span>
                  <span className="block text-sm text-muted">{QUESTIONS[kind].how}</span>
                </Link>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </>
  );
}

function TrialLine({ row }: { row: TrialRow }) {
  const now = new Date();
  const name = row.kind === "sponge" ? "Sponges" : `${row.spool_name ?? ""}: ${SHORT[row.kind]}`;
  return (
    <Link to={`/trials/${row.id}`} className="flex flex-wrap items-baseline gap-x-4 bg-paper px-3 py-2">
      <span className="font-bold underline underline-offset-2">{name}</span>
      <span className="grow">{rowSentence(row)}</span>
      <span className="num text-sm text-muted">
        {row.closed_at === null ? "since " : ""}
        {when(new Date(row.began_at), now)}
      </span>
    </Link>
  );
}

const SHORT = {
  drying: "drying",
  uptake: "uptake",
  twin: "one coil baked",
  ladder: "a ladder of prints",
  swelling: "swelling",
};

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Print } from "../../api/client";
import { useRemovePrint } from "./acts";
import { prints as printsQuery } from "./queries";
import { countWord, fixed, hours } from "../../domain/numbers";
import { massPlusMinus, temp } from "../../domain/quantities";
import { when } from "../../domain/times";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { PageHeading } from "../../components/PageHeading";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { RemoveButton } from "../../components/RemoveButton";
import { link } from "../../components/classes";
import { PrintSlip } from "./PrintSlip";

/** What was printed from which spool, when, with which file. */
export function PrintsPage() {
  const { data: prints, error, refetch } = useQuery(printsQuery(null));
  const [adding, setAdding] = useState(false);
  if (error && !prints) return <Trouble error={error} onRetry={refetch} />;
  if (!prints) return <Skeleton page="Prints" rows={4} height="h-12" />;
  return (
    <div>
      <div className="mb-3 flex flex-wrap items-start justify-between gap-3">
        <PageHeading page="Prints">{sentence(prints)}</PageHeading>
        <Button
          kind="primary"
          onClick={() => {
            setAdding(true);
          }}
        >
          Note a print
        </Button>
      </div>
      <p className="mb-4 text-sm text-muted">
        A file is read by its commands; its text is not kept. What it extrudes goes off the spool.{" "}
        <Link className={link} to="/cases">
          Cases
        </Link>
      </p>
      <ul className="flex flex-col gap-1.5">
        {prints.map((print) => (
          <li key={print.id}>
            <PrintLine made={print} same={sameAs(print, prints)} />
          </li>
        ))}
      </ul>
      {adding && (
        <PrintSlip
          spool={undefined}
          onClose={() => {
            setAdding(false);
          }}
        />
      )}
    </div>
  );
}

function sentence(prints: readonly Print[]): string {
  if (prints.length === 0) return "No print is noted yet.";
  return `${countWord(prints.length)} ${prints.length === 1 ? "print is" : "prints are"} noted.`;
}

/** An earlier print of the very same file. */
const sameAs = (print: Print, prints: readonly Print[]): Print | undefined =>
  prints.find((other) => other.id !== print.id && print.file !== null && other.file?.id === print.file.id);

function PrintLine({ made, same }: { made: Print; same: Print | undefined }) {
  const remove = useRemovePrint();
  const { badPrint } = useShell();
  const summary = made.file?.summary;
  return (
    <div className="grid gap-x-4 bg-paper px-4 py-2.5 sm:grid-cols-[1fr_26rem_auto] sm:items-center">
      <span>
        <strong className="block">{made.name}</strong>
        <span className="text-sm text-muted">
          <Link to={`/spools/${made.spool}`}>{made.spool_name}</Link>, {when(new Date(made.at), new Date())}
          {made.note && ` · ${made.note}`}
          {made.compensated && ` · compensated: ${made.compensated}`}
        </span>
      </span>
      <span className="text-sm">
        {made.mass_g === null ? "mass not known" : massPlusMinus(made.mass_g, 2 * (made.mass_sd_g ?? 0), 1)}
        {summary && (
          <span className="block text-muted">
            {made.file?.name}
            {summary.nozzle_c !== null && ` · ${temp(summary.nozzle_c)}`}
            {summary.layer_mm !== null && ` · layer ${fixed(summary.layer_mm, 2)} mm`}
            {` · at least ${hours(summary.least_h)}`}
            {same && ` · same file as ${same.name}`}
          </span>
        )}
      </span>
      <span className="flex gap-4 text-sm sm:flex-col sm:gap-0.5">
        <Button
          kind="link"
          className="text-left"
          onClick={() => {
            badPrint(made.spool, made.id);
          }}
        >
          came out badly
        </Button>
        <RemoveButton
          removal={remove}
          id={made.id}
          label={`Remove the print ${made.name}`}
          done={`Removed ${made.name}.`}
          className="text-left"
        />
      </span>
    </div>
  );
}

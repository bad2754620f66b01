import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { RunRow } from "../../api/client";
import { runs as runsQuery } from "./queries";
import { countWord, hours, span } from "../../domain/numbers";
import { massPlusMinus, temp } from "../../domain/quantities";
import { when } from "../../domain/times";
import { PageHeading } from "../../components/PageHeading";
import { useAddress } from "../../components/useAddress";
import { useAddressText } from "../../components/useAddressText";
import { Choice } from "../../components/Choice";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { field, standingLink } from "../../components/classes";
import { STATE_WORDS, subjectOf } from "./words";
import { SaveTable } from "../../components/SaveTable";
import { runsTable } from "./table";
import { isWanted, type Which } from "./filter";

const isRunning = ({ run }: RunRow) => run.ended_at === null;

function headline(rows: RunRow[]): string {
  const running = rows.filter(isRunning);
  if (rows.length === 0) return "No runs yet. Plan one with P.";
  const [only] = running;
  if (running.length === 1 && only) return `${subjectOf(only.run)} is drying in ${only.run.dryer.name}.`;
  return running.length === 0 ? "Nothing is drying now." : `${countWord(running.length)} spools are drying.`;
}

/** Running and ended runs, newest first. */
export function RunsPage() {
  const { data: rows, error, refetch } = useQuery(runsQuery);
  const [typed, setTyped] = useAddressText("find");
  const [which, setWhich] = useAddress<Which>("show", "all", ["all", "drying", "ended"]);
  if (error && !rows) return <Trouble error={error} onRetry={refetch} />;
  if (!rows) return <Skeleton page="Runs" rows={4} height="h-16" />;
  const now = new Date();
  const shown = rows.filter((row) => isWanted(row, typed, which));
  return (
    <>
      <div className="mb-3 flex flex-wrap items-end justify-between gap-x-6 gap-y-2">
        <PageHeading page="Runs">{headline(rows)}</PageHeading>
        {rows.length > 0 && (
          <div className="flex flex-wrap items-end gap-3">
            <Choice
              label="Show"
              across
              value={which}
              options={[
                { value: "all", name: "all" },
                { value: "drying", name: "drying" },
                { value: "ended", name: "ended" },
              ]}
              onChoose={setWhich}
            />
            <div className="w-56">
              <input
                type="search"
                aria-label="Find a run by spool, material, dryer or verdict"
                placeholder="spool, dryer, verdict"
                className={field}
                value={typed}
                onChange={(event) => {
                  setTyped(event.target.value);
                }}
              />
            </div>
          </div>
        )}
      </div>
      {shown.length === 0 && rows.length > 0 && <p className="bg-paper p-4">No run matches.</p>}
      <ul aria-label="Runs" className="flex flex-col gap-1">
        {shown.map(({ run, material_short, verdict }) => (
          <li
            key={run.id}
            className="grid gap-x-4 bg-paper px-3 py-2 focus-within:outline-3 focus-within:outline-ink lane:grid-cols-[16rem_1fr_14rem_12rem]"
          >
            <div>
              <Link to={`/runs/${run.id}`} className="font-bold outline-none">
                {subjectOf(run)}
              </Link>
              <p className="text-sm text-muted">{material_short}</p>
            </div>
            <div>
              {run.dryer.name}, {temp(run.temp_c)} for {hours(run.duration_h)}
              <p className="text-sm text-muted">
                {when(new Date(run.started_at), now)}
                {run.ended_at === null ? ", running" : ` to ${when(new Date(run.ended_at), now)}`}
              </p>
            </div>
            <p className="num">
              {verdict.loss
                ? `${massPlusMinus(verdict.loss.mass_g.value, verdict.loss.mass_g.plus_minus, 1)} out`
                : "—"}
            </p>
            <div>
              <span className="font-bold">{STATE_WORDS[verdict.state]}</span>
              <p className="num text-sm text-muted">
                {verdict.told && `${span(verdict.moisture.p05, verdict.moisture.p95)} % left`}
              </p>
            </div>
          </li>
        ))}
      </ul>
      <div className="mt-2 flex flex-wrap items-center gap-4">
        {shown.length > 0 && <SaveTable table={() => runsTable(shown)} />}
        <Link className={standingLink} to="/runs/import">
          Add past runs from a table
        </Link>
      </div>
    </>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { ApiError } from "../../api/client";
import { Button } from "../../components/Button";
import { Field } from "../../components/Field";
import { PageHeading } from "../../components/PageHeading";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { link, panel, standingLink } from "../../components/classes";
import { bareTemp, typedTemp } from "../../domain/quantities";
import { tempUnit } from "../../domain/units";
import { HomeBuilt } from "./HomeBuilt";
import { type Another, type Cell, type Compared, compared as comparedQuery, type Row } from "./queries";
import { cellWords, costWords, dryersSentence, rowWords, soonest } from "./words";

const FIELDS = ["max_c", "vent_m3_h", "slots", "timer_max_h", "heater_w", "price"] as const;
type Name = (typeof FIELDS)[number];

/** What was typed of a dryer, as it stands in the address: in the person's own units. */
const thoughtOf = (params: URLSearchParams): Another =>
  Object.fromEntries(
    FIELDS.map((name) => [name, params.get(name) ?? ""] as const).filter(([, text]) => text),
  );

const sent = ({ max_c, ...others }: Another): Another =>
  max_c === undefined ? others : { ...others, max_c: typedTemp(max_c) };

/** Every dryer for every spool; and what another would save. */
export function DryersPage() {
  const [params, setParams] = useSearchParams();
  const another = thoughtOf(params);
  const { data, error, isPlaceholderData: stale, refetch } = useQuery(comparedQuery(sent(another)));
  const refused = error instanceof ApiError && error.field !== null ? error : null;
  if (error && !data && !refused) return <Trouble error={error} onRetry={refetch} />;
  if (!data && !refused) return <Skeleton page="Dryers side by side" rows={4} height="h-24" />;
  return (
    <>
      <PageHeading page="Dryers side by side" className="mb-3">
        {refused ? refused.message : data && dryersSentence(data)}
      </PageHeading>
      <div className="grid items-start gap-6 xl:grid-cols-[1fr_18.5rem]">
        {data && <SideBySide found={data} stale={stale} />}
        <div className="flex flex-col gap-6">
          <Thought
            key={params.toString()}
            given={another}
            error={refused}
            currency={data?.currency ?? ""}
            onAsk={(typed) => {
              setParams(typed, { replace: true });
            }}
          />
          <HomeBuilt
            onUse={(maxC, heaterW) => {
              setParams({ max_c: bareTemp(maxC), heater_w: heaterW, slots: "1" }, { replace: true });
              window.scrollTo({ top: 0 });
            }}
          />
        </div>
      </div>
      <p className="mt-4 text-sm">
        <Link className={standingLink} to="/kit">
          Back to Kit
        </Link>
      </p>
    </>
  );
}

function SideBySide({ found, stale }: { found: Compared; stale: boolean }) {
  const cost = costWords(found);
  return (
    <div aria-busy={stale} className="min-w-0">
      {cost && <p className="mb-2 max-w-prose">{cost}</p>}
      <Table found={found} />
      <p className="mt-2 max-w-prose text-sm text-muted">
        Spools that are clean stand by material, from the moisture at which water begins to show.
        {found.gain &&
          (found.assumed
            ? " How often a spool is dried is taken as four times a year, until four runs are on record."
            : " How often each is dried in a year is taken from your runs.")}
      </p>
    </div>
  );
}

function Table({ found }: { found: Compared }) {
  const names = [...(found.gain ? ["the new one"] : []), ...found.dryers.map((dryer) => dryer.name)];
  return (
    <div className="overflow-x-auto">
      <table className={`${panel} w-full min-w-3xl table-fixed text-left text-sm`}>
        <thead>
          <tr className="text-muted">
            <th className="p-2 font-normal">spool</th>
            {names.map((name) => (
              <th key={name} className="p-2 font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {found.rows.map((row) => (
            <TableRow key={row.spool ?? row.material_name} row={row} />
          ))}
        </tbody>
      </table>
    </div>
  );
}

function TableRow({ row }: { row: Row }) {
  const [who, what] = rowWords(row);
  const cells = row.another ? [row.another, ...row.cells] : row.cells;
  const best = soonest(cells);
  return (
    <tr className="border-t border-line align-top">
      <th className="p-2 font-normal">
        {row.spool === null ? (
          <strong>{who}</strong>
        ) : (
          <Link className={`${link} font-bold`} to={`/plan?spool=${row.spool}`}>
            {who}
          </Link>
        )}
        <span className="block text-muted">{what}</span>
      </th>
      {cells.map((cell, at) => (
        <CellOf key={at} cell={cell} best={at === best} />
      ))}
    </tr>
  );
}

function CellOf({ cell, best }: { cell: Cell; best: boolean }) {
  const [does, takes] = cellWords(cell);
  const tone = !cell.fits || !cell.reaches ? "text-muted" : best ? "font-bold" : "";
  return (
    <td className="p-2">
      <span className={`whitespace-nowrap ${cell.reaches ? "num" : ""} ${tone}`}>{does}</span>
      {takes && <span className="block text-muted">{takes}</span>}
    </td>
  );
}

interface ThoughtProps {
  given: Another;
  error: ApiError | null;
  currency: string;
  onAsk: (typed: Record<string, string>) => void;
}

/** A dryer that is thought of: only its hottest air is needed. */
function Thought({ given, error, currency, onAsk }: ThoughtProps) {
  const [typed, setTyped] = useState<Partial<Record<Name, string>>>(given);
  const [missing, setMissing] = useState(false);
  const told = (name: Name) => (error?.field === name ? error.message : undefined);
  const field = (name: Name, label: string, unit: string, hint?: string) => (
    <Field
      label={label}
      {...(unit && { unit })}
      inputMode="decimal"
      value={typed[name] ?? ""}
      hint={hint}
      error={name === "max_c" && missing ? "Needed: its hottest air, for example 90." : told(name)}
      onText={(text) => {
        setTyped({ ...typed, [name]: text });
      }}
    />
  );
  return (
    <form
      noValidate
      aria-label="Another dryer"
      className={`${panel} flex flex-col gap-3`}
      onSubmit={(event) => {
        event.preventDefault();
        setMissing(!typed.max_c?.trim());
        if (!typed.max_c?.trim()) return;
        onAsk(Object.fromEntries(Object.entries(typed).filter(([, text]) => text.trim() !== "")));
      }}
    >
      <h2>What would another dryer save?</h2>
      {field("max_c", "Its hottest air", tempUnit())}
      {field("vent_m3_h", "Air it exchanges", "m³/h", "Empty: as usual for a heated box.")}
      {field("slots", "Spools at once", "")}
      {field("timer_max_h", "Its timer’s longest turn", "h", "Empty: it does not stop by itself.")}
      {field("heater_w", "Mean power at its hottest", "W", "Empty: as usual for a heated box.")}
      {field("price", "What it costs", currency)}
      <Button kind="primary" type="submit" className="self-start">
        Work it out <kbd>Enter</kbd>
      </Button>
    </form>
  );
}

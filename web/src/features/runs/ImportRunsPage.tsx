import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { DateOrder } from "../../components/DateOrder";
import { Picker } from "../../components/Picker";
import { ReadRow, ReadRows } from "../../components/ReadRows";
import { TableColumns } from "../../components/TableColumns";
import { TableImport } from "../../components/TableImport";
import { panel } from "../../components/classes";
import { useShell } from "../../components/shell";
import { countWord, hours, inCount } from "../../domain/numbers";
import { inWords, massAsRead, temp } from "../../domain/quantities";
import { day, zone } from "../../domain/times";
import { dryers as dryersQuery, scales as scalesQuery } from "../equipment/queries";
import { scaleOptions } from "../equipment/words";
import { useAddPastRuns } from "./acts";
import { type LookedRuns, lookAtPastRuns, type PastedRuns, type RunsGuess } from "./queries";

const EXAMPLE = [
  "Date\tSpool\tDryer\tTemp\tHours\tBefore\tAfter",
  "2026-06-03 18:30\tRain gauge\tCellar box\t60\t8\t1012.5\t1010.9",
].join("\n");
const MEANINGS: Record<LookedRuns["columns"][number], string> = {
  spool: "spool",
  dryer: "dryer",
  date: "start, perhaps with the time",
  clock: "time of day it began",
  temp_c: "temperature that was set",
  hours: "hours",
  before_g: "mass before, g",
  after_g: "mass after, g",
  nothing: "left out",
};
const UNTOUCHED: RunsGuess = { columns: [], order: "" };

/** What was dried before Darre: a list is pasted or dropped, looked at, put right, and added as one act. */
export function ImportRunsPage() {
  const [text, setText] = useState("");
  const [guess, setGuess] = useState(UNTOUCHED);
  const [scale, setScale] = useState<number>();
  const [dryer, setDryer] = useState<number>();
  const scales = useQuery(scalesQuery).data ?? [];
  const dryers = useQuery(dryersQuery).data ?? [];
  const pasted = { text, zone, scale: scale ?? null, dryer: dryer ?? null, ...guess };
  const found = useQuery(lookAtPastRuns(pasted));
  const table = text.trim() === "" ? undefined : found.data;
  return (
    <TableImport
      page="Add past runs"
      heading={sentence(table)}
      note="Runs with both masses teach Darre how fast your spools dry in your dryers. Their spools and dryers must be here already."
      text={text}
      example={EXAMPLE}
      onText={(next) => {
        setText(next);
        setGuess(UNTOUCHED);
      }}
      problem={found.error?.message}
      form={
        table && (
          <div className={`${panel} flex flex-col gap-3`}>
            <Picker
              label="Weighed on"
              value={table.scale}
              options={scaleOptions(scales)}
              onChoose={setScale}
            />
            <Picker
              label="Dried in, where a row names no dryer"
              value={table.dryer}
              options={dryers.map(({ id, name }) => ({ value: id, name }))}
              onChoose={setDryer}
            />
            <Add pasted={pasted} table={table} />
          </div>
        )
      }
    >
      {table && <Looked table={table} onGuess={setGuess} />}
    </TableImport>
  );
}

function sentence(table: LookedRuns | undefined): string {
  if (!table) return "Paste what you have dried so far: you see what is read of it before anything is added.";
  const bad = table.rows.length - table.good;
  const good = `${countWord(table.good)} ${table.good === 1 ? "run" : "runs"} can be added`;
  return bad === 0 ? `${good}.` : `${good}; ${inCount(bad)} cannot yet.`;
}

function Add({ pasted, table }: { pasted: PastedRuns; table: LookedRuns }) {
  const add = useAddPastRuns();
  const navigate = useNavigate();
  const { notify } = useShell();
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate(
          { ...pasted, columns: table.columns, order: table.order, scale: table.scale, dryer: table.dryer },
          {
            onSuccess: ({ added, undo }) => {
              notify({ text: `Added ${added} past ${added === 1 ? "run" : "runs"}.`, undo });
              void navigate("/runs?show=ended");
            },
          },
        );
      }}
    >
      <p className="text-sm">
        A spool counts as here from its first run on, and as new then. Rows of the same dryer, start,
        temperature and hours were dried together. A row without a time of day counts as begun at noon.
      </p>
      {add.error && <Alert>{add.error.message}</Alert>}
      <Button
        kind="primary"
        type="submit"
        disabled={add.isPending || table.good === 0}
        className="self-start"
      >
        Add {table.good} {table.good === 1 ? "run" : "runs"}
      </Button>
      {add.isPending && <p role="status">Each run is judged as if it ended now: about a second each …</p>}
    </form>
  );
}

interface LookedProps {
  table: LookedRuns;
  onGuess: (guess: RunsGuess) => void;
}

/** What was read: each column with what it is taken for, each row with what is wrong with it. */
function Looked({ table, onGuess }: LookedProps) {
  return (
    <section className={panel}>
      <TableColumns
        heads={table.heads}
        columns={table.columns}
        meanings={MEANINGS}
        onColumns={(columns) => {
          onGuess({ columns, order: table.order });
        }}
      />
      <DateOrder
        value={table.order}
        onChoose={(order) => {
          onGuess({ columns: table.columns, order });
        }}
      />
      <ReadRows
        heads={[
          { name: "spool" },
          { name: "when" },
          { name: "dryer" },
          { name: "before", right: true },
          { name: "after", right: true },
        ]}
      >
        {table.rows.map((row) => (
          <Row key={row.line} row={row} />
        ))}
      </ReadRows>
    </section>
  );
}

function Row({ row }: { row: LookedRuns["rows"][number] }) {
  return (
    <ReadRow line={row.line} name={row.name} problem={inWords(row.problem)}>
      <td className="py-1 pr-3 num whitespace-nowrap">{row.at === null ? "–" : day(new Date(row.at))}</td>
      <td className="py-1 pr-3">
        {row.dryer_name}
        <span className="block num whitespace-nowrap text-muted">
          {row.temp_c === null ? "–" : temp(row.temp_c)}, {row.hours === null ? "–" : hours(row.hours)}
        </span>
      </td>
      <td className="py-1 text-right num whitespace-nowrap">
        {row.before_g === null ? "–" : massAsRead(row.before_g)}
        {row.printed_g > 0 && (
          <span className="block text-muted">
            {massAsRead(Number(row.printed_g.toFixed(1)))} printed before
          </span>
        )}
      </td>
      <td className="py-1 pl-3 text-right num whitespace-nowrap">
        {row.after_g === null ? "–" : massAsRead(row.after_g)}
      </td>
    </ReadRow>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { EmptySpool } from "../../api/client";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { SaveTable } from "../../components/SaveTable";
import { Skeleton } from "../../components/Skeleton";
import { ReadRow, ReadRows } from "../../components/ReadRows";
import { TableColumns } from "../../components/TableColumns";
import { TableImport } from "../../components/TableImport";
import { Trouble } from "../../components/Trouble";
import { panel } from "../../components/classes";
import { useShell } from "../../components/shell";
import { countWord, inCount } from "../../domain/numbers";
import { inWords, massAsRead, massPlusMinus } from "../../domain/quantities";
import { emptySpools as emptySpoolsQuery } from "../spools/queries";
import { EMPTY_SPOOL_WORDS } from "../spools/words";
import { useTakeOver } from "./acts";
import { type EmptyColumns, type LookedEmpties, lookAtEmpties } from "./queries";
import { emptiesTable } from "./table";

const EXAMPLE = "Make\tWeight\tMaterial\nGrey ring, 1 kg\t212.4\tpolystyrene";
const MEANINGS: Record<EmptyColumns[number], string> = {
  name: "make",
  kind: "made of",
  listed_g: "mass without filament, g",
  outer_diameter_mm: "across the flanges, mm",
  width_mm: "width, mm",
  hub_diameter_mm: "across the hub, mm",
  nothing: "left out",
};

/** What empty spools weigh: as weighed here, or by a list that somebody shares; and that list to take along. */
export function EmptySpoolsPage() {
  const { data: empties, error, refetch } = useQuery(emptySpoolsQuery);
  const [text, setText] = useState("");
  const [columns, setColumns] = useState<EmptyColumns>([]);
  const found = useQuery(lookAtEmpties(text, columns));
  const table = text.trim() === "" ? undefined : found.data;
  const restart = (next: string) => {
    setText(next);
    setColumns([]);
  };
  if (error && !empties) return <Trouble error={error} onRetry={refetch} />;
  if (!empties) return <Skeleton page="Empty spools" rows={3} height="h-32" />;
  return (
    <TableImport
      page="Empty spools"
      heading={table ? sentence(table) : known(empties)}
      note="Filament is what a spool weighs less its empty spool. Take over a list that somebody shares, or share yours."
      text={text}
      example={EXAMPLE}
      onText={restart}
      problem={found.error?.message}
      form={
        table && (
          <TakeOver
            text={text}
            table={table}
            onDone={() => {
              restart("");
            }}
          />
        )
      }
    >
      {table ? <Looked table={table} onColumns={setColumns} /> : <Known empties={empties} />}
    </TableImport>
  );
}

function known(empties: readonly EmptySpool[]): string {
  const told = empties.filter((empty) => empty.mass_g !== null).length;
  if (empties.length === 0) return "No empty spool is here yet.";
  if (told === 0) return "No empty spool of yours was weighed yet.";
  if (told === empties.length) return "The mass of every empty spool is known.";
  return `The mass of ${inCount(told)} of ${inCount(empties.length)} empty spools is known.`;
}

function sentence(table: LookedEmpties): string {
  const bad = table.rows.length - table.good;
  const good = `${countWord(table.good)} empty ${table.good === 1 ? "mass" : "masses"} can be taken over`;
  return bad === 0 ? `${good}.` : `${good}; ${inCount(bad)} cannot yet.`;
}

function TakeOver({ text, table, onDone }: { text: string; table: LookedEmpties; onDone: () => void }) {
  const takeOver = useTakeOver();
  const { notify } = useShell();
  return (
    <form
      className={`${panel} flex flex-col gap-3`}
      onSubmit={(event) => {
        event.preventDefault();
        takeOver.mutate(
          { text, columns: table.columns },
          {
            onSuccess: ({ makes, spools, undo }) => {
              const counted =
                spools === 0
                  ? ""
                  : ` ${countWord(spools)} ${spools === 1 ? "spool counts" : "spools count"} from it now.`;
              notify({
                text: `Took over ${makes} empty ${makes === 1 ? "mass" : "masses"}.${counted}`,
                undo,
              });
              onDone();
            },
          },
        );
      }}
    >
      <p className="text-sm">
        Spools of these makes whose empty mass nobody knew are counted from the list. What you weighed
        yourself stays. A size that is missing is the usual one.
      </p>
      {takeOver.error && <Alert>{takeOver.error.message}</Alert>}
      <Button
        kind="primary"
        type="submit"
        disabled={takeOver.isPending || table.good === 0}
        className="self-start"
      >
        Take over {table.good}
      </Button>
    </form>
  );
}

interface LookedProps {
  table: LookedEmpties;
  onColumns: (columns: EmptyColumns) => void;
}

/** What was read: each column with what it is taken for, each row with what is wrong with it. */
function Looked({ table, onColumns }: LookedProps) {
  return (
    <section className={panel}>
      <TableColumns heads={table.heads} columns={table.columns} meanings={MEANINGS} onColumns={onColumns} />
      <ReadRows heads={[{ name: "make" }, { name: "made of" }, { name: "mass", right: true }]}>
        {table.rows.map((row) => (
          <ReadRow key={row.line} line={row.line} name={row.name} problem={inWords(row.problem)}>
            <td className="py-1 pr-3">{kindWord(row.kind)}</td>
            <td className="py-1 text-right num whitespace-nowrap">
              {row.listed_g === null ? "–" : massAsRead(row.listed_g)}
              {row.listed_before_g !== null && row.listed_before_g !== row.listed_g && (
                <span className="block text-muted">was {massAsRead(row.listed_before_g)}</span>
              )}
            </td>
          </ReadRow>
        ))}
      </ReadRows>
    </section>
  );
}

const kindWord = (kind: string) =>
  kind in EMPTY_SPOOL_WORDS ? EMPTY_SPOOL_WORDS[kind as keyof typeof EMPTY_SPOOL_WORDS] : "–";

function Known({ empties }: { empties: readonly EmptySpool[] }) {
  if (empties.length === 0) return null;
  return (
    <section className={panel}>
      <h2 className="mb-1">What is known</h2>
      <ul aria-label="Empty spools">
        {empties.map((empty) => (
          <li key={empty.id} className="flex justify-between gap-4 border-t border-line py-1.5">
            <span>
              <b>{empty.name}</b>
              <span className="block text-sm text-muted">{kindWord(empty.kind)}</span>
            </span>
            <span className="text-right">
              <span className="num">
                {empty.mass_g === null
                  ? "not known"
                  : massPlusMinus(empty.mass_g.value, empty.mass_g.plus_minus, 0)}
              </span>
              <span className="block text-sm text-muted">{howKnown(empty)}</span>
            </span>
          </li>
        ))}
      </ul>
      <SaveTable table={() => emptiesTable(empties)} className="mt-2" />
    </section>
  );
}

function howKnown({ mass_g, weighed }: EmptySpool): string {
  if (weighed > 0) return `${inCount(weighed)} weighed here`;
  return mass_g === null ? "weigh one when it is used up" : "by a list";
}

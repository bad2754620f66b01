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
import { countWord, inCount } from "../../domain/numbers";
import { inWords, massAsRead } from "../../domain/quantities";
import { day, zone } from "../../domain/times";
import { scales as scalesQuery } from "../equipment/queries";
import { scaleOptions } from "../equipment/words";
import { useAddWeighings } from "./acts";
import { type Guess, type LookedWeighings, lookAtWeighings, type PastedWeighings } from "./queries";

const EXAMPLE = "Date\tSpool\tWeight\n2026-06-03 18:30\tRain gauge\t1012.5";
const MEANINGS: Record<LookedWeighings["columns"][number], string> = {
  spool: "spool",
  date: "date, perhaps with the time",
  clock: "time of day",
  gross_g: "mass on the scale, g",
  note: "note",
  nothing: "left out",
};
const UNTOUCHED: Guess = { columns: [], order: "" };

/** What was weighed before Darre: a list is pasted or dropped, looked at, put right, and added as one act. */
export function ImportWeighingsPage() {
  const [text, setText] = useState("");
  const [guess, setGuess] = useState(UNTOUCHED);
  const [chosen, setChosen] = useState<number>();
  const scales = useQuery(scalesQuery).data ?? [];
  const pasted = { text, zone, scale: chosen ?? null, ...guess };
  const found = useQuery(lookAtWeighings(pasted));
  const table = text.trim() === "" ? undefined : found.data;
  return (
    <TableImport
      page="Add many weighings"
      heading={sentence(table)}
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
              onChoose={setChosen}
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

function sentence(table: LookedWeighings | undefined): string {
  if (!table)
    return "Paste what you have weighed so far: you see what is read of it before anything is added.";
  const bad = table.rows.length - table.good;
  const of = `${inCount(table.spools)} ${table.spools === 1 ? "spool" : "spools"}`;
  const good = `${countWord(table.good)} ${table.good === 1 ? "weighing" : "weighings"} of ${of} can be added`;
  return bad === 0 ? `${good}.` : `${good}; ${inCount(bad)} cannot yet.`;
}

function Add({ pasted, table }: { pasted: PastedWeighings; table: LookedWeighings }) {
  const add = useAddWeighings();
  const navigate = useNavigate();
  const { notify } = useShell();
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate(
          { ...pasted, columns: table.columns, order: table.order, scale: table.scale },
          {
            onSuccess: ({ added, undo }) => {
              notify({ text: `Added ${added} weighings.`, undo });
              void navigate("/");
            },
          },
        );
      }}
    >
      <p className="text-sm">
        A spool counts as here from its first weighing on, and as new then. Where it lost more than water can
        explain, the rest is taken as printed.
      </p>
      {add.error && <Alert>{add.error.message}</Alert>}
      <Button
        kind="primary"
        type="submit"
        disabled={add.isPending || table.good === 0}
        className="self-start"
      >
        Add {table.good} {table.good === 1 ? "weighing" : "weighings"}
      </Button>
    </form>
  );
}

interface LookedProps {
  table: LookedWeighings;
  onGuess: (guess: Guess) => void;
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
          { name: "mass", right: true },
          { name: "printed before", right: true },
        ]}
      >
        {table.rows.map((row) => (
          <ReadRow key={row.line} line={row.line} name={row.name} problem={inWords(row.problem)}>
            <td className="py-1 pr-3 num whitespace-nowrap">
              {row.at === null ? "–" : day(new Date(row.at))}
            </td>
            <td className="py-1 text-right num whitespace-nowrap">
              {row.gross_g === null ? "–" : massAsRead(row.gross_g)}
            </td>
            <td className="py-1 pl-3 text-right num whitespace-nowrap">
              {row.printed_g > 0 ? massAsRead(Number(row.printed_g.toFixed(1))) : ""}
            </td>
          </ReadRow>
        ))}
      </ReadRows>
    </section>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { Picker } from "../../components/Picker";
import { ReadRow, ReadRows } from "../../components/ReadRows";
import { TableColumns } from "../../components/TableColumns";
import { TableImport } from "../../components/TableImport";
import { useShell } from "../../components/shell";
import { panel, standingLink } from "../../components/classes";
import { countWord, inCount, percent } from "../../domain/numbers";
import { massAsRead } from "../../domain/quantities";
import { scales as scalesQuery } from "../equipment/queries";
import { scaleOptions } from "../equipment/words";
import { places as placesQuery } from "../storage/queries";
import { useAddTable } from "./acts";
import { type LookedTable, lookAtTable } from "./queries";

const EXAMPLE = "Name\tMaterial\tColour\tWeight\nNorth hinge\tPETG\tgreen\t1012.5";
const MEANINGS: Record<LookedTable["columns"][number], string> = {
  name: "name",
  material: "material",
  maker: "maker",
  colour: "colour",
  purpose: "what for",
  place: "place",
  gross_g: "mass on the scale, g",
  tare_g: "empty spool, g",
  nominal_g: "filament when new, g",
  moisture_pct: "water, %",
  diameter_mm: "diameter, mm",
  nothing: "left out",
};
/** Many spools at once: a table is pasted or dropped, looked at, put right, and added as one act. */
export function ImportPage() {
  const [text, setText] = useState("");
  const [columns, setColumns] = useState<LookedTable["columns"]>([]);
  const found = useQuery(lookAtTable(text, columns));
  const table = text.trim() === "" ? undefined : found.data;
  return (
    <TableImport
      page="Add many spools"
      heading={sentence(table)}
      note={
        <>
          Have you weighed or dried them before? Once the spools are here, add a list of{" "}
          <Link className={standingLink} to="/weighings/import">
            weighings
          </Link>{" "}
          or of{" "}
          <Link className={standingLink} to="/runs/import">
            past runs
          </Link>
          .
        </>
      }
      text={text}
      example={EXAMPLE}
      onText={(next) => {
        setText(next);
        setColumns([]);
      }}
      problem={found.error?.message}
      form={table && <AddTable text={text} table={table} />}
    >
      {table && <Looked table={table} onColumns={setColumns} />}
    </TableImport>
  );
}

function sentence(table: LookedTable | undefined): string {
  if (!table) return "Paste your list of spools: you see what is read of it before anything is added.";
  const bad = table.rows.length - table.good;
  const good = `${countWord(table.good)} ${table.good === 1 ? "spool" : "spools"} can be added`;
  return bad === 0 ? `${good}.` : `${good}; ${inCount(bad)} cannot yet.`;
}

function AddTable({ text, table }: { text: string; table: LookedTable }) {
  const places = useQuery(placesQuery).data ?? [];
  const scales = useQuery(scalesQuery).data ?? [];
  const [place, setPlace] = useState<number>();
  const [scale, setScale] = useState<number>();
  const add = useAddTable();
  const navigate = useNavigate();
  const { notify } = useShell();
  const into = place ?? places[0]?.id;
  const by = scale ?? scales.at(-1)?.id;
  const weighed = table.columns.includes("gross_g");
  return (
    <form
      className={`${panel} flex flex-col gap-3`}
      onSubmit={(event) => {
        event.preventDefault();
        if (into === undefined) return;
        add.mutate(
          {
            text,
            columns: table.columns,
            place: into,
            ...(weighed && by !== undefined ? { scale: by } : {}),
          },
          {
            onSuccess: ({ added, undo }) => {
              notify({ text: `Added ${added} spools.`, undo });
              void navigate("/");
            },
          },
        );
      }}
    >
      <Picker
        label="Put those without a place in"
        value={into ?? 0}
        options={places.map((one) => ({ value: one.id, name: one.name }))}
        onChoose={setPlace}
      />
      {weighed && (
        <Picker label="Weighed on" value={by ?? 0} options={scaleOptions(scales)} onChoose={setScale} />
      )}
      {add.error && <Alert>{add.error.message}</Alert>}
      <Button
        kind="primary"
        type="submit"
        disabled={add.isPending || table.good === 0}
        className="self-start"
      >
        Add {table.good} {table.good === 1 ? "spool" : "spools"}
      </Button>
    </form>
  );
}

interface LookedProps {
  table: LookedTable;
  onColumns: (columns: LookedTable["columns"]) => void;
}

/** What was read: each column with what it is taken for, each row with what is wrong with it. */
function Looked({ table, onColumns }: LookedProps) {
  return (
    <section className={panel}>
      <TableColumns heads={table.heads} columns={table.columns} meanings={MEANINGS} onColumns={onColumns} />
      <ReadRows
        heads={[
          { name: "name" },
          { name: "material" },
          { name: "place" },
          { name: "mass", right: true },
          { name: "water, %", right: true },
        ]}
      >
        {table.rows.map((row) => (
          <ReadRow key={row.line} line={row.line} name={row.name} problem={row.problem}>
            <td className="py-1 pr-3">{row.material || "–"}</td>
            <td className="py-1 pr-3">{row.place_name || "–"}</td>
            <td className="py-1 text-right num">{row.gross_g === null ? "–" : massAsRead(row.gross_g)}</td>
            <td className="py-1 text-right num">
              {row.moisture_pct === null ? "–" : percent(row.moisture_pct)}
            </td>
          </ReadRow>
        ))}
      </ReadRows>
    </section>
  );
}

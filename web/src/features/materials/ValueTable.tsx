import { useState } from "react";
import { type Material } from "../../api/client";
import { useDropValue, useSetValue } from "./acts";
import { bareTemp } from "../../domain/quantities";
import { sentence } from "../../domain/text";
import { tempUnit, toTempStep } from "../../domain/units";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { type PropertyName, scientific, spreadWords, TERMS } from "./words";
import { NumberField, TextField } from "../../forms/fields";
import { maybeQuantity, maybeWords, quantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

type Row = Material["values"][number];
type Known = NonNullable<Row["now"]>;

const isTemp = (unit: string) => unit === "°C";
const unitOf = (known: Known | null) => (known ? (isTemp(known.unit) ? tempUnit() : known.unit) : "%");
const shown = (known: Known) => (isTemp(known.unit) ? bareTemp(known.value) : scientific(known.value));
const spreadOf = (known: Known) =>
  isTemp(known.unit) ? `± ${Number(toTempStep(known.spread).toFixed(1))}` : spreadWords(known);

const HEADS = [
  { head: "property", wide: false },
  { head: "value", wide: false },
  { head: "spread (1 σ)", wide: true },
  { head: "from where, under which conditions", wide: true },
];

/** Every property with its value, spread, source and conditions; an own value stands over the built-in one. */
export function ValueTable({ material }: { material: Material }) {
  const [editing, setEditing] = useState<Row | null>(null);
  const order = Object.keys(TERMS) as PropertyName[];
  const rows = order.flatMap((name) => material.values.filter((value) => value.name === name));
  return (
    <div className="relative overflow-x-auto">
      <table aria-label={`What is known of ${material.name}`} className="w-full bg-paper text-left">
        <thead>
          <tr className="text-sm text-muted">
            {HEADS.map(({ head, wide }) => (
              <th key={head} scope="col" className={`px-3 py-1 font-normal ${wide ? "max-sm:hidden" : ""}`}>
                {head}
              </th>
            ))}
            <th scope="col">
              <span className="sr-only">change</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <ValueRow
              key={row.name}
              material={material}
              row={row}
              onEdit={() => {
                setEditing(row);
              }}
            />
          ))}
        </tbody>
      </table>
      {editing && (
        <ValueSlip
          material={material}
          row={editing}
          onClose={() => {
            setEditing(null);
          }}
        />
      )}
    </div>
  );
}

function ValueRow({ material, row, onEdit }: { material: Material; row: Row; onEdit: () => void }) {
  const { notify } = useShell();
  const drop = useDropValue();
  const { now, built_in: builtIn } = row;
  const { term, use } = TERMS[row.name];
  const from = now ? `${now.source} ${sentence(now.conditions)}.` : "takes up too little water to need one";
  return (
    <tr className="border-t border-line align-top">
      <th scope="row" className="px-3 py-1 text-left font-bold">
        {term}
        <span className="block text-sm font-normal text-muted">{use}</span>
        <span className="mt-1 block text-sm font-normal text-muted sm:hidden">{from}</span>
      </th>
      <td className="px-3 py-1 sm:whitespace-nowrap">
        {now ? (
          <>
            <span className="num font-bold">{shown(now)}</span>{" "}
            <span className="text-sm text-muted">{unitOf(now)}</span>
          </>
        ) : (
          "—"
        )}
        {now && <span className="block num text-sm sm:hidden">{spreadOf(now)}</span>}
        {row.own && (
          <span className="block text-sm text-muted">built in: {builtIn ? shown(builtIn) : "none"}</span>
        )}
      </td>
      <td className="px-3 py-1 num whitespace-nowrap max-sm:hidden">{now ? spreadOf(now) : "—"}</td>
      <td className="px-3 py-1 text-sm text-muted max-sm:hidden">{from}</td>
      <td className="px-3 py-1 text-right text-sm whitespace-nowrap">
        <div className="flex flex-col items-end">
          <Button kind="link" aria-label={`Change ${term}`} onClick={onEdit}>
            change
          </Button>
          {row.own && (
            <Button
              kind="link"
              aria-label={`Go back to the built-in ${term}`}
              onClick={() => {
                drop.mutate(
                  { id: material.id, name: row.name },
                  {
                    onSuccess: ({ undo }) => {
                      notify({ text: `Back to the built-in ${term.toLowerCase()}.`, undo });
                    },
                  },
                );
              }}
            >
              go back
            </Button>
          )}
        </div>
      </td>
    </tr>
  );
}

function shapeOf(row: Row) {
  const { term } = TERMS[row.name];
  const warm = row.now !== null && isTemp(row.now.unit);
  return z.object({
    value: quantity(warm ? "temp" : "scientific", term.toLowerCase(), row.now?.value ?? 1),
    spread: maybeQuantity(warm ? "step" : "scientific", "how sure it is", row.now?.spread ?? 1),
    note: maybeWords,
  });
}

function ValueSlip({ material, row, onClose }: { material: Material; row: Row; onClose: () => void }) {
  const { notify } = useShell();
  const set = useSetValue();
  const warm = row.now !== null && isTemp(row.now.unit);
  const form = useActForm(shapeOf(row), {
    value: row.now ? (warm ? shown(row.now) : String(row.now.value)) : "",
    spread: "",
    note: "",
  });
  const { control } = form;
  const { term, use } = TERMS[row.name];
  const submit = form.submit(async (body) => {
    const { undo } = await set.mutateAsync({ id: material.id, name: row.name, body });
    onClose();
    notify({ text: `Saved your own ${term.toLowerCase()} of ${material.name}.`, undo });
  });
  return (
    <Slip title={`${term} of ${material.name}`} problem={form.problem} onClose={onClose} onSubmit={submit}>
      <p className="text-sm text-muted">{use}. The built-in value stays to go back to.</p>
      <NumberField control={control} name="value" label="Value" unit={unitOf(row.now)} autoFocus />
      <NumberField
        control={control}
        name="spread"
        label={row.now?.spread_kind === "factor" ? "One sigma, × or ÷" : "One sigma, ±"}
        hint={row.now ? `empty keeps ${spreadOf(row.now)}` : undefined}
      />
      <TextField control={control} name="note" label="Where it comes from" maxLength={120} />
      <Button kind="primary" type="submit" className="self-start" disabled={form.busy}>
        Save
      </Button>
    </Slip>
  );
}

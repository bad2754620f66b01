import { Button } from "@headlessui/react";
import { useState } from "react";
import { type Material } from "../../api/client";
import { useDropValue, useSetValue } from "./acts";
import { bareTemp, typedTemp, typedTempStep } from "../../domain/quantities";
import { tempUnit, toTempStep } from "../../domain/units";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { Slip } from "../../components/Slip";
import { link, primary } from "../../components/classes";
import { type PropertyName, scientific, spreadWords, TERMS } from "./words";
import { refusal } from "../../components/refusal";

type Row = Material["values"][number];
type Known = NonNullable<Row["now"]>;

const sentence = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
const isTemp = (unit: string) => unit === "°C";
const unitOf = (it: Known | null) => (it ? (isTemp(it.unit) ? tempUnit() : it.unit) : "%");
const shown = (it: Known) => (isTemp(it.unit) ? bareTemp(it.value) : scientific(it.value));
const spreadOf = (it: Known) =>
  isTemp(it.unit) ? `± ${Number(toTempStep(it.spread).toFixed(1))}` : spreadWords(it);

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
  const rows = order.flatMap((name) => material.values.filter((it) => it.name === name));
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
        <Button className={link} aria-label={`Change ${term}`} onClick={onEdit}>
          change
        </Button>
        {row.own && (
          <Button
            className={`${link} block`}
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
      </td>
    </tr>
  );
}

function ValueSlip({ material, row, onClose }: { material: Material; row: Row; onClose: () => void }) {
  const { notify } = useShell();
  const set = useSetValue();
  const warm = row.now !== null && isTemp(row.now.unit);
  const [value, setValue] = useState(row.now ? (warm ? shown(row.now) : String(row.now.value)) : "");
  const [spread, setSpread] = useState("");
  const [note, setNote] = useState("");
  const { refused } = refusal(set.error);
  const { term, use } = TERMS[row.name];
  const factor = row.now?.spread_kind === "factor";
  const onSpread = refused?.field === "spread";
  return (
    <Slip
      title={`${term} of ${material.name}`}
      onClose={onClose}
      onSubmit={() => {
        set.mutate(
          {
            id: material.id,
            name: row.name,
            body: {
              value: warm ? typedTemp(value) : value,
              spread: spread.trim() === "" ? null : warm ? typedTempStep(spread) : spread,
              note,
            },
          },
          {
            onSuccess: ({ undo }) => {
              onClose();
              notify({ text: `Saved your own ${term.toLowerCase()} of ${material.name}.`, undo });
            },
          },
        );
      }}
    >
      <p className="text-sm text-muted">{use}. The built-in value stays to go back to.</p>
      <Field
        label="Value"
        unit={unitOf(row.now)}
        inputMode="decimal"
        autoFocus
        value={value}
        error={refused && !onSpread ? refused.message : undefined}
        onText={setValue}
      />
      <Field
        label={factor ? "One sigma, × or ÷" : "One sigma, ±"}
        inputMode="decimal"
        value={spread}
        error={onSpread ? refused.message : undefined}
        hint={row.now ? `empty keeps ${spreadOf(row.now)}` : undefined}
        onText={setSpread}
      />
      <Field label="Where it comes from" value={note} maxLength={120} onText={setNote} />
      <Button type="submit" className={`${primary} self-start`} disabled={set.isPending}>
        Save
      </Button>
    </Slip>
  );
}

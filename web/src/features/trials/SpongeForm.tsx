import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { Tick } from "../../components/Tick";
import { panel } from "../../components/classes";
import { typedMass, typedTemp } from "../../domain/quantities";
import { massUnit, tempUnit } from "../../domain/units";
import { dryers as dryersQuery, scales as scalesQuery } from "../equipment/queries";
import { scaleOptions } from "../equipment/words";
import { useBeginTrial } from "./acts";
import { useBegun } from "./useBegun";

interface Row {
  dryer: number;
  start: string;
  dry: string;
  air: string;
  rh: string;
  desiccant: boolean;
}

const EMPTY = { start: "", dry: "", air: "", rh: "", desiccant: false };

/** Sponges side by side: a dryer each, with its wet and its dry mass. */
export function SpongeForm() {
  const dryers = useQuery(dryersQuery).data ?? [];
  const scales = useQuery(scalesQuery).data ?? [];
  const [typed, setTyped] = useState<Row[]>();
  const [scaleId, setScale] = useState<number>();
  const begin = useBeginTrial();
  const { problem, after } = useBegun("The sponges are in.");
  const rows = typed ?? dryers.slice(0, 2).map((dryer) => ({ ...EMPTY, dryer: dryer.id }));
  const scale = scales.find((one) => one.id === scaleId) ?? scales[1] ?? scales[0];
  const change = (n: number, part: Partial<Row>) => {
    setTyped(rows.map((row, at) => (at === n ? { ...row, ...part } : row)));
  };
  const submit = () => {
    if (!scale) return;
    begin.mutate(
      {
        kind: "sponge",
        scale: scale.id,
        soaked: false,
        note: "",
        samples: rows.map((row) => ({
          name: "",
          baked: false,
          dryer: row.dryer,
          start_g: typedMass(row.start),
          dry_g: row.dry === "" ? null : typedMass(row.dry),
          ...(row.air === "" ? {} : { air_temp_c: typedTemp(row.air) }),
          ...(row.rh === "" ? {} : { air_rh_pct: row.rh }),
          desiccant: row.desiccant,
        })),
      },
      after,
    );
  };
  return (
    <form
      noValidate
      className={`${panel} flex max-w-4xl flex-col gap-4`}
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <p className="text-sm">
        Weigh each sponge dry, wet it, weigh it again, and put one in each dryer at the same setting. Take
        them out while they are still wet: when all are dry, all tie. No desiccant.
      </p>
      <Picker label="Weighed on" value={scale?.id ?? 0} options={scaleOptions(scales)} onChoose={setScale} />
      {rows.map((row, n) => (
        <fieldset key={n} className="grid items-start gap-3 border-t border-line pt-3 sm:grid-cols-3">
          <legend className="sr-only">Sponge {n + 1}</legend>
          <Picker
            label="In"
            value={row.dryer}
            options={dryers.map((dryer) => ({ value: dryer.id, name: dryer.name }))}
            onChoose={(dryer) => {
              change(n, { dryer });
            }}
          />
          <Field
            label="Dry"
            unit={massUnit()}
            inputMode="decimal"
            value={row.dry}
            onText={(dry) => {
              change(n, { dry });
            }}
          />
          <Field
            label="Wet, as it goes in"
            unit={massUnit()}
            inputMode="decimal"
            value={row.start}
            onText={(start) => {
              change(n, { start });
            }}
          />
          <Field
            label="Air in the dryer"
            unit={tempUnit()}
            inputMode="decimal"
            value={row.air}
            onText={(air) => {
              change(n, { air });
            }}
          />
          <Field
            label="Its humidity"
            unit="%"
            inputMode="decimal"
            value={row.rh}
            hint="With both the exchange flow is told."
            onText={(rh) => {
              change(n, { rh });
            }}
          />
          <Tick
            label="Desiccant in it"
            checked={row.desiccant}
            onTick={(desiccant) => {
              change(n, { desiccant });
            }}
          />
        </fieldset>
      ))}
      {problem !== undefined && <Alert>{problem}</Alert>}
      <div className="flex gap-4">
        <Button kind="primary" type="submit" disabled={begin.isPending}>
          Begin
        </Button>
        <Button
          kind="link"
          onClick={() => {
            const free = dryers.find((dryer) => !rows.some((row) => row.dryer === dryer.id)) ?? dryers[0];
            if (free) setTyped([...rows, { ...EMPTY, dryer: free.id }]);
          }}
        >
          one more dryer
        </Button>
      </div>
    </form>
  );
}

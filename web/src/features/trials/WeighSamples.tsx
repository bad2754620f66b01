import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import type { Trial } from "../../api/client";
import { Button } from "../../components/Button";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { useShell } from "../../components/shell";
import { panel } from "../../components/classes";
import { hours, scaleDecimals } from "../../domain/numbers";
import { mass, typedMass } from "../../domain/quantities";
import { massUnit, toMass } from "../../domain/units";
import { liveMass } from "../equipment/queries";
import { clock } from "../../domain/times";
import { useOrLater } from "../outbox/useOrLater";
import { useWeighSample } from "./acts";

const HOUR = 3_600_000;

/** Weighs sample after sample: the reading and Enter, and the next one is asked for. W leads here from anywhere. */
export function WeighSamples({ trial }: { trial: Trial }) {
  const { weighHere, notify } = useShell();
  const field = useRef<HTMLInputElement>(null);
  const [chosen, setChosen] = useState<number>();
  const [gross, setGross] = useState("");
  const [after, setAfter] = useState("");
  const [key, setKey] = useState(() => crypto.randomUUID());
  const weigh = useWeighSample();
  const orLater = useOrLater();
  const live = useQuery(liveMass(trial.scale ?? 0)).data?.heard;
  useEffect(() => {
    weighHere(() => {
      field.current?.focus();
      field.current?.select();
    });
    return () => {
      weighHere(null);
    };
  }, [weighHere]);
  const sample =
    trial.samples.find((one) => one.id === (chosen ?? trial.next)) ?? trial.samples[trial.samples.length - 1];
  if (!sample) return null;
  const heard = live ? String(Number(toMass(live.mass_g).toFixed(3))) : "";
  const submit = async () => {
    const told = gross.trim() === "" ? heard : gross;
    const hoursAfter = after.trim() === "" ? {} : { hours: after };
    const body = { gross_g: typedMass(told), client_key: key, ...hoursAfter };
    const since = (Date.now() - new Date(trial.began_at).getTime()) / HOUR;
    try {
      const done = await orLater(
        () => weigh.mutateAsync({ id: sample.id, body }),
        { key, path: `/api/samples/${sample.id}/readings/`, body: { hours: since.toFixed(4), ...body } },
        `${sample.name}, ${told} ${massUnit()} at ${clock(new Date())}`,
      );
      if (done) notify({ text: `${sample.name}: ${told} ${massUnit()}.`, undo: done.undo });
    } catch {
      return; // what was refused is said at the field
    }
    setGross("");
    setAfter("");
    setChosen(undefined);
    setKey(crypto.randomUUID());
    field.current?.focus();
  };
  return (
    <form
      noValidate
      className={`${panel} flex flex-col gap-3`}
      onSubmit={(event) => {
        event.preventDefault();
        if (!weigh.isPending) void submit();
      }}
    >
      <Field
        ref={field}
        label={`${sample.name} weighs`}
        unit={massUnit()}
        inputMode="decimal"
        large
        value={gross}
        error={weigh.error?.message}
        hint={`In: ${mass(sample.start_g, scaleDecimals(trial.resolution_g ?? 1))}. Wiped, and at the room’s temperature.`}
        onText={setGross}
      />
      {live && (
        <p className="text-sm" role="status">
          The scale shows <b className="num">{mass(live.mass_g, scaleDecimals(trial.resolution_g ?? 1))}</b>
          {live.steady ? ": Enter alone takes it." : ", not steady yet."}
        </p>
      )}
      <div className="grid grid-cols-2 items-start gap-3">
        <Picker
          label="Sample"
          value={sample.id}
          options={trial.samples.map((one) => ({
            value: one.id,
            name: one.name,
            note: one.planned_h === null ? undefined : `due after ${hours(one.planned_h)}`,
          }))}
          onChoose={setChosen}
        />
        <Field
          label="Hours after the start"
          inputMode="decimal"
          value={after}
          hint="Empty: now."
          onText={setAfter}
        />
      </div>
      <Button kind="primary" type="submit" disabled={weigh.isPending} className="self-start">
        Save <kbd>Enter</kbd>
      </Button>
    </form>
  );
}

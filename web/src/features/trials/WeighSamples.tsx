import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { ApiError, type Trial } from "../../api/client";
import { Button } from "../../components/Button";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { useShell } from "../../components/shell";
import { panel } from "../../components/classes";
import { fixed, hours, scaleDecimals } from "../../domain/numbers";
import { mass, typedMass, typedSize } from "../../domain/quantities";
import { numbersIn } from "../../domain/typed";
import { massUnit, sizeUnit, toMass, toSize } from "../../domain/units";
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
  const [lengths, setLengths] = useState("");
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
  const isPiece = trial.kind === "swelling";
  const [ofMass, ofLength] = byField(weigh.error);
  const heard = live ? String(Number(toMass(live.mass_g).toFixed(3))) : "";
  const submit = async () => {
    const told = gross.trim() === "" ? heard : gross;
    const hoursAfter = after.trim() === "" ? {} : { hours: after };
    const long = isPiece ? { after_mm: numbersIn(lengths).map(typedSize) } : {};
    const body = { gross_g: typedMass(told), client_key: key, ...hoursAfter, ...long };
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
    setLengths("");
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
        error={ofMass}
        hint={`In: ${mass(sample.start_g, scaleDecimals(trial.resolution_g ?? 1))}. Wiped, and at the room’s temperature.`}
        onText={setGross}
      />
      {isPiece && <PieceLength sample={sample} value={lengths} error={ofLength} onText={setLengths} />}
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

/** What was refused, at the field that it is about: of the mass, of the length. */
function byField(error: Error | null): [string | undefined, string | undefined] {
  if (!error) return [undefined, undefined];
  const ofLength = error instanceof ApiError && error.field?.startsWith("after_mm") === true;
  return ofLength ? [undefined, error.message] : [error.message, undefined];
}

interface LengthProps {
  sample: Trial["samples"][number];
  value: string;
  error: string | undefined;
  onText: (text: string) => void;
}

function PieceLength({ sample, value, error, onText }: LengthProps) {
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (error !== undefined) field.current?.focus();
  }, [error]);
  const dry = sample.before_mm.map((one) => fixed(toSize(one), 2)).join(" ");
  return (
    <Field
      ref={field}
      label={`Length of ${sample.name}`}
      unit={sizeUnit()}
      inputMode="decimal"
      value={value}
      error={error}
      hint={`Dry: ${dry}. As often as then, with spaces between.`}
      onText={onText}
    />
  );
}

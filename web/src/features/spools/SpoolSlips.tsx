import { useState } from "react";
import { type Lane } from "../../api/client";
import { useNoteMoisture, useUseFilament } from "./acts";
import { fromLocalField, toLocalField } from "../../domain/times";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { MomentField, NumberField, TextField } from "../../forms/fields";
import { maybeWords, moment, quantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

interface Props {
  spool: Lane["spool"];
  onClose: () => void;
}

const MOISTURE = z.object({
  moisture_pct: quantity("plain", "how much water is in it", 0.2),
  plus_minus_pct: quantity("plain", "how far off that may be", 0.1),
  at: moment,
});

/** How wet a spool is, from a knowledge of one's own. */
export function MoistureSlip({ spool, onClose }: Props) {
  const { notify } = useShell();
  const note = useNoteMoisture();
  const [shown] = useState(() => toLocalField(new Date()));
  const form = useActForm(MOISTURE, { moisture_pct: "", plus_minus_pct: "", at: shown });
  const { control } = form;
  const submit = form.submit(async ({ at, ...values }) => {
    const { undo } = await note.mutateAsync({
      spool: spool.id,
      body: { ...values, ...ifChanged(at, shown) },
    });
    onClose();
    notify({ text: `Noted how wet ${spool.name} is.`, undo });
  });
  return (
    <Slip title={`How wet is ${spool.name}?`} problem={form.problem} onClose={onClose} onSubmit={submit}>
      <NumberField
        control={control}
        name="moisture_pct"
        label="Water, of the dry plastic"
        unit="%"
        autoFocus
      />
      <NumberField
        control={control}
        name="plus_minus_pct"
        label="Give or take"
        unit="%"
        hint="Two standard uncertainties: right 19 times in 20."
      />
      <MomentField control={control} name="at" label="At" />
      <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
        Save
      </Button>
    </Slip>
  );
}

const USE = z.object({
  mass_g: quantity("mass", "how much was used", 85),
  note: maybeWords,
  at: moment,
});

/** Filament that was printed. */
export function UseSlip({ spool, onClose }: Props) {
  const { notify } = useShell();
  const use = useUseFilament();
  const [shown] = useState(() => toLocalField(new Date()));
  const form = useActForm(USE, { mass_g: "", note: "", at: shown });
  const { control } = form;
  const submit = form.submit(async ({ at, ...values }) => {
    const { undo } = await use.mutateAsync({ spool: spool.id, body: { ...values, ...ifChanged(at, shown) } });
    onClose();
    notify({ text: `Noted what was printed off ${spool.name}.`, undo });
  });
  return (
    <Slip title={`Printed off ${spool.name}`} problem={form.problem} onClose={onClose} onSubmit={submit}>
      <NumberField
        control={control}
        name="mass_g"
        label="Filament used"
        measure="mass"
        hint="As the file says; taken to be right to a tenth."
        autoFocus
      />
      <TextField control={control} name="note" label="What it was" maxLength={120} />
      <MomentField control={control} name="at" label="At" />
      <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
        Save
      </Button>
    </Slip>
  );
}

/** A time is sent only where it was changed: the field shows whole minutes, and "just now" is meant to the second. */
const ifChanged = (at: string, shown: string) => (at === fromLocalField(shown) ? {} : { at });

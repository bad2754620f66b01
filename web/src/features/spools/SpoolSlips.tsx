import { useState } from "react";
import { type Lane, type SpoolFacts } from "../../api/client";
import {
  useCorrectMoisture,
  useCorrectUse,
  useNoteMoisture,
  useRemoveMoisture,
  useRemoveUse,
  useUseFilament,
} from "./acts";
import { shownIn } from "../../domain/measures";
import { fromLocalField, toLocalField } from "../../domain/times";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { MomentField, NumberField, TextField } from "../../forms/fields";
import { maybeWords, moment, quantity } from "../../forms/shape";
import { SaveOrRemove } from "../../forms/SaveOrRemove";
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

interface MoistureProps extends Props {
  /** The one that is put right; a new one where it is left out. */
  reading?: SpoolFacts["moisture_readings"][number];
}

/** How wet a spool is, from a knowledge of one's own. */
export function MoistureSlip({ spool, reading, onClose }: MoistureProps) {
  const { notify } = useShell();
  const note = useNoteMoisture();
  const correct = useCorrectMoisture();
  const remove = useRemoveMoisture();
  const [shown] = useState(() => toLocalField(reading ? new Date(reading.at) : new Date()));
  const form = useActForm(MOISTURE, {
    moisture_pct: shownIn("plain", reading?.moisture_pct),
    plus_minus_pct: shownIn("plain", reading && 2 * reading.sd_pct),
    at: shown,
  });
  const { control } = form;
  const done = (text: string, undo: number | null) => {
    onClose();
    notify({ text, undo });
  };
  const submit = form.submit(async ({ at, ...values }) => {
    const body = { ...values, ...ifChanged(at, shown) };
    const { undo } = await (reading
      ? correct.mutateAsync({ id: reading.id, body })
      : note.mutateAsync({ spool: spool.id, body }));
    done(reading ? "Corrected; the moisture is recomputed." : `Noted how wet ${spool.name} is.`, undo);
  });
  return (
    <Slip
      title={reading ? `How wet was ${spool.name}?` : `How wet is ${spool.name}?`}
      problem={form.problem}
      onClose={onClose}
      onSubmit={submit}
    >
      <NumberField
        control={control}
        name="moisture_pct"
        label="Water, of the dry filament"
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
      <SaveOrRemove
        busy={form.busy}
        removal={
          reading && {
            act: remove,
            id: reading.id,
            onRemoved: (undo) => {
              done("Removed; the moisture is recomputed.", undo);
            },
            onRefused: form.refuse,
          }
        }
      />
    </Slip>
  );
}

const USE = z.object({
  mass_g: quantity("mass", "how much was used", 85),
  note: maybeWords,
  at: moment,
});

interface UseProps extends Props {
  /** The one that is put right; a new one where it is left out. */
  use?: SpoolFacts["uses"][number];
}

/** Filament that was printed. */
export function UseSlip({ spool, use, onClose }: UseProps) {
  const { notify } = useShell();
  const note = useUseFilament();
  const correct = useCorrectUse();
  const remove = useRemoveUse();
  const [shown] = useState(() => toLocalField(use ? new Date(use.at) : new Date()));
  const form = useActForm(USE, { mass_g: shownIn("mass", use?.mass_g), note: use?.note ?? "", at: shown });
  const { control } = form;
  const done = (text: string, undo: number | null) => {
    onClose();
    notify({ text, undo });
  };
  const submit = form.submit(async ({ at, ...values }) => {
    const body = { ...values, ...ifChanged(at, shown) };
    const { undo } = await (use
      ? correct.mutateAsync({ id: use.id, body })
      : note.mutateAsync({ spool: spool.id, body }));
    done(use ? "Corrected what was printed." : `Noted what was printed off ${spool.name}.`, undo);
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
      <SaveOrRemove
        busy={form.busy}
        removal={
          use && {
            act: remove,
            id: use.id,
            onRemoved: (undo) => {
              done("Removed what was printed.", undo);
            },
            onRefused: form.refuse,
          }
        }
      />
    </Slip>
  );
}

/** A time is sent only where it was changed: the field shows whole minutes, and "just now" is meant to the second. */
const ifChanged = (at: string, shown: string) => (at === fromLocalField(shown) ? {} : { at });

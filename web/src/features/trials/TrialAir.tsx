import { useState } from "react";
import * as z from "zod";
import type { Trial } from "../../api/client";
import { BoxAirChart } from "../../charts/BoxAirChart";
import { AirReadings } from "../../components/AirReadings";
import { Button } from "../../components/Button";
import { RemoveButton } from "../../components/RemoveButton";
import { Slip } from "../../components/Slip";
import { panel } from "../../components/classes";
import { useShell } from "../../components/shell";
import { hours } from "../../domain/numbers";
import { NumberField, PickField } from "../../forms/fields";
import { maybeQuantity, quantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { useNoteTrialAir, useRemoveTrialAir } from "./acts";
import { airWords, whoseAir } from "./words";

type Air = Trial["airs"][number];

const READING = z.object({
  sample: z.number().nullable(),
  temp_c: quantity("temp", "the temperature of the air", 62),
  rh_pct: quantity("plain", "the humidity of the air", 9),
  hours: maybeQuantity("plain", "the hours since the start", 2),
});

/** Whether there is something to say of the air about the samples, or to note. It makes no difference to pieces and
 * prints, nor to what lies in water. */
export function hasAir({ kind, rh_pct, airs, closed_at }: Trial): boolean {
  if (closed_at !== null) return airs.length > 0;
  return kind === "drying" || kind === "twin" || kind === "sponge" || (kind === "uptake" && rh_pct !== null);
}

/** What somebody read of the air beside the samples, drawn over time, and one reading more. */
export function TrialAir({ trial }: { trial: Trial }) {
  const [open, setOpen] = useState(false);
  return (
    <section aria-label="The air beside them" className={panel}>
      {trial.airs.length === 0 && (
        <>
          <h2>The air beside them</h2>
          <p className="text-sm text-muted">
            {trial.kind === "sponge"
              ? "With a reading or two off a meter, a sponge also tells how much air its dryer exchanges."
              : "Readings off any meter replace the planned temperature and humidity."}
          </p>
        </>
      )}
      {trial.airs.map((air) => (
        <Read key={air.sample ?? 0} trial={trial} air={air} />
      ))}
      {trial.closed_at === null && (
        <Button
          kind="link"
          className="mt-1 text-sm"
          onClick={() => {
            setOpen(true);
          }}
        >
          note a reading of the air
        </Button>
      )}
      {open && (
        <ReadingSlip
          trial={trial}
          onClose={() => {
            setOpen(false);
          }}
        />
      )}
    </section>
  );
}

function Read({ trial, air }: { trial: Trial; air: Air }) {
  const remove = useRemoveTrialAir();
  const last = air.notes[air.notes.length - 1]?.hours ?? 0;
  return (
    <div className="mb-3">
      <h2>{airWords(air)}</h2>
      {air.course && (
        <BoxAirChart
          air={air.course}
          label={airWords(air)}
          where={whoseAir(air.name)}
          planned_c={trial.planned_temp_c}
          typed={air.notes.map(({ hours: time, temp_c, rh_pct }) => ({ time, temp_c, rh_pct }))}
          endH={Math.max(1.05 * last, 0.1)}
        />
      )}
      <AirReadings
        readings={air.notes}
        when={(note) => `after ${hours(note.hours)}`}
        remove={(note) =>
          trial.closed_at === null && (
            <RemoveButton
              id={note.id}
              label={`Remove the reading after ${hours(note.hours)}`}
              done="Removed the reading."
              removal={remove}
            />
          )
        }
      />
    </div>
  );
}

function ReadingSlip({ trial, onClose }: { trial: Trial; onClose: () => void }) {
  const { notify } = useShell();
  const note = useNoteTrialAir();
  const [key] = useState(() => crypto.randomUUID());
  const sponges = trial.kind === "sponge" ? trial.samples : [];
  const form = useActForm(READING, { sample: sponges[0]?.id ?? null, temp_c: "", rh_pct: "", hours: "" });
  const { control } = form;
  const submit = form.submit(async (read) => {
    const { undo } = await note.mutateAsync({ trial: trial.id, body: { ...read, client_key: key } });
    onClose();
    notify({ text: "Noted the reading.", undo });
  });
  return (
    <Slip title="The air beside them" problem={form.problem} onClose={onClose} onSubmit={submit}>
      <p className="text-sm">Off any meter that lies beside the samples.</p>
      {sponges.length > 0 && (
        <PickField
          control={control}
          name="sample"
          label="In"
          options={sponges.map(({ id, name }) => ({ value: id, name }))}
        />
      )}
      <NumberField control={control} name="temp_c" label="Temperature" measure="temp" autoFocus />
      <NumberField control={control} name="rh_pct" label="Relative humidity" unit="%" />
      <NumberField control={control} name="hours" label="Hours after the start" hint="Empty: now." />
      <Button kind="primary" type="submit" className="self-start" disabled={form.busy}>
        Save
      </Button>
    </Slip>
  );
}

import { useState } from "react";
import * as z from "zod";
import type { RunSheet } from "../../api/client";
import type { components } from "../../api/schema";
import { AirReadings } from "../../components/AirReadings";
import { Button } from "../../components/Button";
import { RemoveButton } from "../../components/RemoveButton";
import { Slip } from "../../components/Slip";
import { useShell } from "../../components/shell";
import { when } from "../../domain/times";
import { JustNowField, NumberField } from "../../forms/fields";
import { maybeMoment, quantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { useNoteAir, useRemoveAir } from "./acts";

type Typed = components["schemas"]["TypedAir"];

const READING = z.object({
  temp_c: quantity("temp", "the temperature in the dryer", 62),
  rh_pct: quantity("plain", "the humidity in the dryer", 9),
  at: maybeMoment,
});

/** What somebody read off a meter in the dryer, and one reading more. */
export function TypedAir({ run, typed }: { run: RunSheet["run"]; typed: readonly Typed[] }) {
  const [open, setOpen] = useState(false);
  const remove = useRemoveAir();
  const now = new Date();
  return (
    <section aria-label="Readings by hand" className="mt-2 text-sm print:hidden">
      {typed.length > 0 && (
        <AirReadings
          readings={typed}
          when={({ at }) => when(new Date(at), now)}
          remove={({ id, at }) => (
            <RemoveButton
              id={{ id, run: run.id }}
              label={`Remove the reading of ${when(new Date(at), now)}`}
              done="Removed the reading."
              removal={remove}
            />
          )}
        />
      )}
      <Button
        kind="link"
        onClick={() => {
          setOpen(true);
        }}
      >
        note a reading by hand
      </Button>
      {open && (
        <ReadingSlip
          run={run}
          onClose={() => {
            setOpen(false);
          }}
        />
      )}
    </section>
  );
}

function ReadingSlip({ run, onClose }: { run: RunSheet["run"]; onClose: () => void }) {
  const { notify } = useShell();
  const note = useNoteAir();
  const form = useActForm(READING, { temp_c: "", rh_pct: "", at: "" });
  const { control } = form;
  const submit = form.submit(async ({ at, ...body }) => {
    const { undo } = await note.mutateAsync({ run: run.id, body: { ...body, ...(at !== null && { at }) } });
    onClose();
    notify({ text: "Noted the reading.", undo });
  });
  return (
    <Slip title={`The air in ${run.dryer.name}`} problem={form.problem} onClose={onClose} onSubmit={submit}>
      <p className="text-sm">
        Off any meter that hangs beside the spool. Two readings or more are drawn under the run.
      </p>
      <NumberField control={control} name="temp_c" label="Temperature" measure="temp" autoFocus />
      <NumberField control={control} name="rh_pct" label="Relative humidity" unit="%" />
      <JustNowField control={control} name="at" what="Read" now="just now" />
      <Button kind="primary" type="submit" className="self-start" disabled={form.busy}>
        Save
      </Button>
    </Slip>
  );
}

import { useWatch } from "react-hook-form";
import * as z from "zod";
import { type RunEvent, type RunSheet } from "../../api/client";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { Slip } from "../../components/Slip";
import { useShell } from "../../components/shell";
import { shownIn } from "../../domain/measures";
import { JustNowField, MomentField, NumberField, PickField, TextField } from "../../forms/fields";
import { maybeMoment, maybeQuantity, maybeWords } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { useNoteEnergy } from "./acts";
import { useNote } from "./useNote";
import { EVENT_WORDS } from "./words";

/** What is noted as it happens; a changed plan is an act of its own. */
export type Noted = Exclude<RunEvent["kind"], "changed">;

const ASKED: readonly Noted[] = ["timer", "power_cut", "desiccant", "sensor", "other"];

const EVENT = z.object({
  kind: z.custom<Noted>(),
  at: maybeMoment,
  out_at: maybeMoment,
  minutes: maybeQuantity("plain", "how long it took", 20),
  note: maybeWords,
});
const METER = z.object({
  start_kwh: maybeQuantity("plain", "the meter’s reading", 12.4),
  end_kwh: maybeQuantity("plain", "the meter’s reading", 12.9),
});

interface NoteProps {
  run: RunSheet["run"];
  onKept: (text: string, undo: number | null) => void;
}

/** What happened in a run, when, and for how long; and the energy meter. */
export function EventSlip({ sheet, onClose }: { sheet: RunSheet; onClose: () => void }) {
  const { notify } = useShell();
  const { run } = sheet;
  const { note } = useNote(run);
  const form = useActForm(EVENT, { kind: "timer", at: "", out_at: "", minutes: "", note: "" });
  const kind = useWatch({ control: form.control, name: "kind" });
  const { control } = form;
  const kept = (text: string, undo: number | null) => {
    onClose();
    notify({ text, undo });
  };
  const submit = form.submit(async (body) => {
    const { at, out_at, ...rest } = body;
    const moments = {
      ...(at !== null && { at }),
      ...(body.kind === "timer" && out_at !== null && { out_at }),
    };
    await note({ ...rest, ...moments });
    onClose();
  });
  return (
    <Slip title={`Note for ${run.spool.name}`} problem={form.problem} onClose={onClose} onSubmit={submit}>
      <PickField
        control={control}
        name="kind"
        label="What happened"
        options={ASKED.map((kind) => ({ value: kind, name: EVENT_WORDS[kind] }))}
      />
      {kind === "timer" && (
        <MomentField
          control={control}
          name="out_at"
          label="It had run out at"
          hint="empty: when it was due"
        />
      )}
      <JustNowField
        control={control}
        name="at"
        what={kind === "timer" ? "Set again" : "It happened"}
        now="just now"
      />
      {(kind === "timer" || kind === "power_cut") && (
        <NumberField
          control={control}
          name="minutes"
          label={kind === "timer" ? "Set for, if not as planned" : "Power was away for"}
          unit="min"
        />
      )}
      <TextField control={control} name="note" label="Note" maxLength={200} />
      <Button kind="primary" type="submit" className="self-start" disabled={form.busy}>
        Note it
      </Button>
      <Meter run={run} onKept={kept} />
    </Slip>
  );
}

function Meter({ run, onKept }: NoteProps) {
  const energy = useNoteEnergy();
  const form = useActForm(METER, {
    start_kwh: shownIn("plain", run.energy_start_kwh),
    end_kwh: shownIn("plain", run.energy_end_kwh),
  });
  const { control } = form;
  const save = form.submit(async (body) => {
    const { undo } = await energy.mutateAsync({ run: run.id, body });
    onKept("Read the meter.", undo);
  });
  return (
    <fieldset className="mt-2 border-t border-line pt-2">
      <legend className="font-bold">The energy meter</legend>
      <div className="grid grid-cols-2 gap-2">
        <NumberField control={control} name="start_kwh" label="At the start" unit="kWh" />
        <NumberField control={control} name="end_kwh" label="Now" unit="kWh" />
      </div>
      {form.problem !== undefined && <Alert>{form.problem}</Alert>}
      <Button kind="quiet" className="mt-2 text-sm" disabled={form.busy} onClick={save}>
        Save the readings
      </Button>
    </fieldset>
  );
}

import * as z from "zod";
import type { RunSheet } from "../../api/client";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { shownIn } from "../../domain/measures";
import { NumberField, TextField } from "../../forms/fields";
import { maybeWords, quantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { useChangeRun } from "./acts";

const SHAPE = z.object({
  temp_c: quantity("temp", "the air at the spool", 60),
  duration_h: quantity("plain", "the hours of heat in all", 8),
  override_reason: maybeWords,
});

/** Longer, shorter, hotter, cooler: from now on, for everything in the box. */
export function ChangeSlip({ run, onClose }: { run: RunSheet["run"]; onClose: () => void }) {
  const { notify } = useShell();
  const change = useChangeRun();
  const shown = {
    temp_c: shownIn("temp", run.temp_c),
    duration_h: shownIn("plain", run.duration_h),
  };
  const form = useActForm(SHAPE, { ...shown, override_reason: "" });
  const { control } = form;
  const submit = form.submit(async ({ temp_c, duration_h, override_reason }) => {
    const { undo } = await change.mutateAsync({
      run: run.id,
      body: {
        // What was left as it stands is not changed.
        temp_c: Number(temp_c) === run.temp_c ? null : temp_c,
        duration_h: Number(duration_h) === run.duration_h ? null : duration_h,
        override_reason,
      },
    });
    onClose();
    notify({ text: `Changed the run of ${run.spool.name}. Set the dryer to it as well.`, undo });
  });
  return (
    <Slip title="Change this run from now on" problem={form.problem} onClose={onClose} onSubmit={submit}>
      <NumberField control={control} name="temp_c" label="Air at the spool" measure="temp" autoFocus />
      <NumberField control={control} name="duration_h" label="Heat for, in all" unit="h" />
      <TextField
        control={control}
        name="override_reason"
        label="Why, where it is past a limit"
        maxLength={200}
      />
      <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
        Save
      </Button>
    </Slip>
  );
}

import { useState } from "react";
import * as z from "zod";
import type { RunSheet } from "../../api/client";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { shownIn } from "../../domain/measures";
import { scaleDecimals } from "../../domain/numbers";
import { mass } from "../../domain/quantities";
import { toLocalField, withSeconds } from "../../domain/times";
import { MomentField, NumberField, TextField, TickField } from "../../forms/fields";
import { maybeWords, moment, quantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { useCorrectWeighing } from "./acts";

export type Weighed = Omit<RunSheet["seen"][number], "point">;

const SHAPE = z.object({
  gross_g: quantity("mass", "what the scale read", 858.4),
  at: moment,
  note: maybeWords,
  warm: z.boolean(),
  surface_wet: z.boolean(),
  doubtful: z.boolean(),
});

/** Put a weighing right. */
export function MendWeighing({ seen, onClose }: { seen: Weighed; onClose: () => void }) {
  const { notify } = useShell();
  const correct = useCorrectWeighing();
  const [key] = useState(() => crypto.randomUUID());
  const form = useActForm(SHAPE, {
    gross_g: shownIn("mass", seen.gross_g),
    at: toLocalField(new Date(seen.at)),
    ...{ note: seen.note, warm: seen.warm, surface_wet: seen.surface_wet, doubtful: seen.doubtful },
  });
  const { control } = form;
  const submit = form.submit(async ({ at, ...values }) => {
    const body = {
      ...values,
      at: withSeconds(at, seen.at),
      scale: seen.scale,
      weighed_object: seen.weighed_object,
      client_key: key,
    };
    const { undo, weighing } = await correct.mutateAsync({ id: seen.id, body });
    onClose();
    notify({ text: `Corrected to ${mass(weighing.gross_g, scaleDecimals(seen.resolution_g))}.`, undo });
  });
  return (
    <Slip title="Change a weighing" problem={form.problem} onClose={onClose} onSubmit={submit}>
      <NumberField control={control} name="gross_g" label="The scale read" measure="mass" autoFocus />
      <MomentField control={control} name="at" label="Weighed at" />
      <TickField control={control} name="warm" label="it was still warm" />
      <TickField control={control} name="surface_wet" label="it was wet on the surface" />
      <TickField control={control} name="doubtful" label="save it although water cannot explain it" />
      <TextField control={control} name="note" label="Note" maxLength={200} />
      <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
        Save
      </Button>
    </Slip>
  );
}

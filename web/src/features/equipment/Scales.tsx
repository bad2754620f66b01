import { useState } from "react";
import { type Scale } from "../../api/client";
import { useAddScale, useRemoveScale } from "./acts";
import { usualScale } from "./fields";
import { massAsRead } from "../../domain/quantities";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { RemoveButton } from "../../components/RemoveButton";
import { NumberField, TextField } from "../../forms/fields";
import { maybeQuantity, quantity, words } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

/** The scales, and a way to add one. */
export function Scales({ scales }: { scales: Scale[] }) {
  const remove = useRemoveScale();
  const [adding, setAdding] = useState(false);
  return (
    <section aria-label="Scales">
      <h2 className="text-sm font-normal text-muted">Scales</h2>
      {scales.length === 0 && <p>No scale yet.</p>}
      <ul>
        {scales.map((scale) => (
          <li key={scale.id} className="border-b border-line py-1">
            <strong>{scale.name}</strong>
            <span className="flex justify-between text-sm text-muted">
              to {massAsRead(scale.max_g)} by {massAsRead(scale.resolution_g)}
              <RemoveButton
                removal={remove}
                id={scale.id}
                label={`Remove ${scale.name}`}
                done={`Removed ${scale.name}.`}
              />
            </span>
          </li>
        ))}
      </ul>
      <Button
        kind="link"
        className="mt-1 text-sm"
        onClick={() => {
          setAdding(true);
        }}
      >
        add a scale
      </Button>
      {adding && (
        <AddScale
          first={scales.length === 0}
          onClose={() => {
            setAdding(false);
          }}
        />
      )}
    </section>
  );
}

const NO_SCALE = { name: "", max_g: "", resolution_g: "" };

const SHAPE = z.object({
  name: words("a name", "Kitchen scale"),
  max_g: quantity("mass", "the most that it carries", 5000),
  resolution_g: quantity("mass", "the step that it shows", 0.1),
  repeatability_g: maybeQuantity("mass", "how well it repeats", 0.05),
});

interface Props {
  /** Whether there is none yet: it is taken for a kitchen scale, unless another is typed. */
  first: boolean;
  onClose: () => void;
}

/** What a scale is called, carries and shows. */
export function AddScale({ first, onClose }: Props) {
  const { notify } = useShell();
  const add = useAddScale();
  const form = useActForm(SHAPE, { ...(first ? usualScale() : NO_SCALE), repeatability_g: "" });
  const { control } = form;
  const submit = form.submit(async (values) => {
    const { scale, undo } = await add.mutateAsync(values);
    onClose();
    notify({ text: `Added ${scale.name}.`, undo });
  });
  return (
    <Slip title="Add a scale" problem={form.problem} onClose={onClose} onSubmit={submit}>
      <TextField control={control} name="name" label="Name" maxLength={60} />
      <div className="grid grid-cols-2 gap-3">
        <NumberField control={control} name="max_g" label="Carries up to" measure="mass" />
        <NumberField control={control} name="resolution_g" label="Shows steps of" measure="mass" />
      </div>
      <NumberField
        control={control}
        name="repeatability_g"
        label="Repeats within"
        measure="mass"
        hint="Weigh one thing ten times: the spread of the readings. Empty: half a step."
      />
      <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
        Add
      </Button>
    </Slip>
  );
}

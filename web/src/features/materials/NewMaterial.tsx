import { type Material } from "../../api/client";
import { useAddMaterial } from "./acts";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { PickField, TextField } from "../../forms/fields";
import { words } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

interface Props {
  materials: Material[];
  onAdded: (id: string) => void;
  onClose: () => void;
}

const SHAPE = z.object({ name: words("a name", "my own nylon"), base: z.string() });

/** A material of the person's own, begun from the built-in one that it is nearest to. */
export function NewMaterial({ materials, onAdded, onClose }: Props) {
  const { notify } = useShell();
  const add = useAddMaterial();
  const builtIn = materials.filter((material) => !material.own && material.mixed_in === null);
  const form = useActForm(SHAPE, { name: "", base: builtIn[0]?.id ?? "" });
  const { control } = form;
  const submit = form.submit(async (values) => {
    const { material, undo } = await add.mutateAsync({ ...values, short: "" });
    onClose();
    onAdded(material.id);
    notify({ text: `Began ${material.name}.`, undo });
  });
  return (
    <Slip title="A material of your own" problem={form.problem} onClose={onClose} onSubmit={submit}>
      <TextField control={control} name="name" label="Name" autoFocus maxLength={60} />
      <PickField
        control={control}
        name="base"
        label="Begin from"
        options={builtIn.map((material) => ({ value: material.id, name: material.name }))}
        hint="It starts with all the values of that one; change those you know better."
      />
      <Button kind="primary" type="submit" className="self-start" disabled={form.busy}>
        Begin
      </Button>
    </Slip>
  );
}

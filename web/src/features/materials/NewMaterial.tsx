import { Button } from "@headlessui/react";
import { useState } from "react";
import { type Material } from "../../api/client";
import { useAddMaterial } from "./acts";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { Slip } from "../../components/Slip";
import { primary } from "../../components/classes";
import { refusal } from "../../components/refusal";

interface Props {
  materials: Material[];
  onAdded: (id: string) => void;
  onClose: () => void;
}

/** A material of the person's own, begun from the built-in one that it is nearest to. */
export function NewMaterial({ materials, onAdded, onClose }: Props) {
  const { notify } = useShell();
  const add = useAddMaterial();
  const [name, setName] = useState("");
  const builtIn = materials.filter((it) => !it.own);
  const [base, setBase] = useState(builtIn[0]?.id ?? "");
  const { refused } = refusal(add.error);
  return (
    <Slip
      title="A material of your own"
      onClose={onClose}
      onSubmit={() => {
        add.mutate(
          { name, short: "", base },
          {
            onSuccess: (answer) => {
              onClose();
              onAdded(answer.material.id);
              notify({ text: `Began ${answer.material.name}.`, undo: answer.undo });
            },
          },
        );
      }}
    >
      <Field label="Name" autoFocus value={name} maxLength={60} error={refused?.message} onText={setName} />
      <Picker
        label="Begin from"
        value={base}
        options={builtIn.map((it) => ({ value: it.id, name: it.name }))}
        onChoose={setBase}
        hint="It starts with all values of that one; change what you know better."
      />
      <Button type="submit" className={`${primary} self-start`} disabled={add.isPending}>
        Begin
      </Button>
    </Slip>
  );
}

import { Button } from "@headlessui/react";
import { useState } from "react";
import { type Scale } from "../../api/client";
import { useAddScale, useRemoveScale } from "./acts";
import { massAsRead, typedMass } from "../../domain/quantities";
import { massUnit } from "../../domain/units";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { Slip } from "../../components/Slip";
import { RemoveButton } from "../../components/RemoveButton";
import { link, primary } from "../../components/classes";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

/** The scales, and a way to add one. */
export function Scales({ scales }: { scales: Scale[] }) {
  const remove = useRemoveScale();
  const [adding, setAdding] = useState(false);
  return (
    <section aria-label="Scales">
      <h2 className="text-sm font-normal text-muted">Scales</h2>
      {scales.length === 0 && <p>No scale yet.</p>}
      <ul>
        {scales.map((it) => (
          <li key={it.id} className="border-b border-line py-1">
            <strong>{it.name}</strong>
            <span className="flex justify-between text-sm text-muted">
              to {massAsRead(it.max_g)} by {massAsRead(it.resolution_g)}
              <RemoveButton
                removal={remove}
                id={it.id}
                label={`Remove ${it.name}`}
                done={`Removed ${it.name}.`}
              />
            </span>
          </li>
        ))}
      </ul>
      <Button
        className={`${link} mt-1 text-sm`}
        onClick={() => {
          setAdding(true);
        }}
      >
        add a scale
      </Button>
      {adding && (
        <AddScale
          onClose={() => {
            setAdding(false);
          }}
        />
      )}
    </section>
  );
}

function AddScale({ onClose }: { onClose: () => void }) {
  const { notify } = useShell();
  const add = useAddScale();
  const [typed, setTyped] = useState({ name: "", max: "", step: "", repeats: "" });
  const { refused, of } = refusal(add.error);
  const write = (name: keyof typeof typed) => (text: string) => {
    setTyped({ ...typed, [name]: text });
    add.reset();
  };
  return (
    <Slip
      title="Add a scale"
      onClose={onClose}
      onSubmit={() => {
        add.mutate(
          {
            name: typed.name,
            max_g: typedMass(typed.max),
            resolution_g: typedMass(typed.step),
            repeatability_g: typed.repeats.trim() === "" ? null : typedMass(typed.repeats),
          },
          {
            onSuccess: ({ scale, undo }) => {
              onClose();
              notify({ text: `Added ${scale.name}.`, undo });
            },
          },
        );
      }}
    >
      <Field label="Name" value={typed.name} maxLength={60} error={of("name")} onText={write("name")} />
      <div className="grid grid-cols-2 gap-3">
        <Field
          label="Carries up to"
          unit={massUnit()}
          inputMode="decimal"
          value={typed.max}
          error={of("max_g")}
          onText={write("max")}
        />
        <Field
          label="Shows steps of"
          unit={massUnit()}
          inputMode="decimal"
          value={typed.step}
          error={of("resolution_g")}
          onText={write("step")}
        />
      </div>
      <Field
        label="Repeats within"
        unit={massUnit()}
        inputMode="decimal"
        value={typed.repeats}
        hint="Weigh one thing ten times: the spread of the readings. Empty: half a step."
        error={of("repeatability_g")}
        onText={write("repeats")}
      />
      {refused?.field === null && <Alert>{refused.message}</Alert>}
      <Button type="submit" className={`${primary} justify-center`} disabled={add.isPending}>
        Add
      </Button>
    </Slip>
  );
}

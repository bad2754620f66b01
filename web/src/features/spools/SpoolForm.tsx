import { Button } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type SpoolFacts } from "../../api/client";
import { useChangeSpool } from "./acts";
import { materials as materialsQuery } from "../materials/queries";
import { emptySpools as emptySpoolsQuery } from "./queries";
import { typedMass } from "../../domain/quantities";
import { massUnit, toMass } from "../../domain/units";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { Slip } from "../../components/Slip";
import { primary } from "../../components/classes";
import { TarePicker } from "./TarePicker";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

/** A spool's own data. */
export function SpoolForm({ page, onClose }: { page: SpoolFacts; onClose: () => void }) {
  const { spool } = page.traced.lane;
  const { notify } = useShell();
  const change = useChangeSpool();
  const { data: materials = [] } = useQuery(materialsQuery);
  const { data: emptySpools = [] } = useQuery(emptySpoolsQuery);
  const [text, setText] = useState({
    name: spool.name,
    colour: spool.colour,
    maker: spool.maker,
    purpose: spool.purpose,
    tare: String(Number(toMass(spool.tare_g).toFixed(2))),
    diameter: String(spool.strand_diameter_mm),
  });
  const [material, setMaterial] = useState(spool.material);
  const [emptySpool, setEmptySpool] = useState(page.empty_spool);
  const [method, setMethod] = useState(spool.tare_method);
  const { refused } = refusal(change.error);
  const field = (name: keyof typeof text, label: string, key: string, unit?: string) => (
    <Field
      label={label}
      {...(unit === undefined ? {} : { unit })}
      value={text[name]}
      maxLength={120}
      error={refused?.field === key ? refused.message : undefined}
      onText={(value) => {
        setText({ ...text, [name]: value });
        change.reset();
      }}
    />
  );
  return (
    <Slip
      title={`Change ${spool.name}`}
      onClose={onClose}
      onSubmit={() => {
        const { name, colour, maker, purpose } = text;
        change.mutate(
          {
            id: spool.id,
            body: {
              name,
              colour,
              maker,
              purpose,
              material,
              empty_spool: emptySpool,
              form: spool.form,
              tare_g: typedMass(text.tare),
              tare_method: method,
              strand_diameter_mm: text.diameter,
            },
          },
          {
            onSuccess: ({ undo }) => {
              onClose();
              notify({ text: `Changed ${name}.`, undo });
            },
          },
        );
      }}
    >
      {field("name", "Name", "name")}
      <Picker
        label="Material"
        value={material}
        options={materials.map((it) => ({ value: it.id, name: it.short, note: it.name }))}
        onChoose={setMaterial}
      />
      <div className="grid grid-cols-2 gap-3">
        {field("colour", "Colour", "colour")}
        {field("maker", "Maker", "maker")}
      </div>
      {field("purpose", "For", "purpose")}
      <Picker
        label="Empty spool"
        value={emptySpool}
        options={emptySpools.map((it) => ({ value: it.id, name: it.name }))}
        onChoose={setEmptySpool}
      />
      <div className="grid grid-cols-2 gap-3">
        {field("tare", "Empty it weighs", "tare_g", massUnit())}
        <TarePicker label="Known by" value={method} onChoose={setMethod} />
      </div>
      {field("diameter", "Filament diameter", "strand_diameter_mm", "mm")}
      {refused?.field === null && <Alert>{refused.message}</Alert>}
      <Button type="submit" className={`${primary} justify-center`} disabled={change.isPending}>
        Save
      </Button>
    </Slip>
  );
}

import { useQuery } from "@tanstack/react-query";
import { type Control, type FieldValues, type Path, useController } from "react-hook-form";
import { materials as materialsQuery, mixedIn as mixedInQuery } from "../materials/queries";
import { Picker } from "../../components/Picker";

interface Props<In extends FieldValues & { material: string }, Out> {
  control: Control<In, unknown, Out>;
}

/** What a spool is of: its polymer, and what is mixed in, which the material’s id ends with. */
export function MaterialField<In extends FieldValues & { material: string }, Out>({
  control,
}: Props<In, Out>) {
  const { data: materials = [] } = useQuery(materialsQuery);
  const { data: mixtures = [] } = useQuery(mixedInQuery);
  const {
    field: { ref, value, onChange },
    fieldState: { error },
  } = useController({ control, name: "material" as Path<In> });
  const id: string = value;
  const suffix = mixtures.find((mixed) => id.endsWith(mixed.suffix))?.suffix ?? "";
  const base = id.slice(0, id.length - suffix.length);
  return (
    <div className="grid grid-cols-2 items-start gap-3">
      <Picker
        label="Material"
        ref={ref}
        value={base}
        error={error?.message}
        onChoose={(chosen) => {
          onChange(chosen + suffix);
        }}
        options={materials
          .filter((material) => material.mixed_in === null)
          .map((material) => ({ value: material.id, name: material.short, note: material.name }))}
      />
      <Picker
        label="Mixed in"
        value={suffix}
        onChoose={(chosen) => {
          onChange(base + chosen);
        }}
        options={[
          { value: "", name: "nothing" },
          ...mixtures.map((mixed) => ({ value: mixed.suffix, name: mixed.name })),
        ]}
      />
    </div>
  );
}

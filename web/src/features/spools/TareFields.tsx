import { type Control, type FieldValues, type Path, useWatch } from "react-hook-form";
import { NumberField, PickField } from "../../forms/fields";
import { TARE_OPTIONS, type TareMethod } from "./words";

interface Props<In extends FieldValues & TareTyped, Out> {
  control: Control<In, unknown, Out>;
  /** Whether the form asks what the spool weighs: then a label’s mass is taken off that. */
  weighed?: boolean;
}

interface TareTyped {
  tare_g: string;
  tare_method: TareMethod;
  nominal_g: string;
}

/** How the mass of the empty spool is known, and what has to be known for that. */
export function TareFields<In extends FieldValues & TareTyped, Out>({
  control,
  weighed = false,
}: Props<In, Out>) {
  const method: TareMethod = useWatch({ control, name: "tare_method" as Path<In> });
  const byLabel = method === "unknown" || (method === "nominal" && weighed);
  return (
    <div className="grid grid-cols-2 items-end gap-3">
      <PickField
        control={control}
        name={"tare_method" as Path<In>}
        label="Empty mass"
        options={TARE_OPTIONS}
      />
      {byLabel ? (
        <NumberField control={control} name={"nominal_g" as Path<In>} label="Its label says" measure="mass" />
      ) : (
        <NumberField
          control={control}
          name={"tare_g" as Path<In>}
          label={method === "nominal" ? "New, less the label" : "Empty it weighs"}
          measure="mass"
        />
      )}
    </div>
  );
}

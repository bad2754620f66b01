/** Fields of a form: each is bound to its name in the form's shape. */
import type { ComponentProps, ReactNode } from "react";
import { type Control, type FieldValues, type Path, useController } from "react-hook-form";
import { Choice } from "../components/Choice";
import { Field } from "../components/Field";
import { JustNow } from "../components/JustNow";
import { Picker } from "../components/Picker";
import { Tick } from "../components/Tick";
import { measured, type Measure } from "../domain/measures";

interface Bound<In extends FieldValues, Out> {
  control: Control<In, unknown, Out>;
  name: Path<In>;
}

type TextProps<In extends FieldValues, Out> = Bound<In, Out> &
  Omit<ComponentProps<typeof Field>, "value" | "error" | "onText" | "onBlur" | "ref" | "name">;

/** A line of text, a date, a time. */
export function TextField<In extends FieldValues, Out>({ control, name, ...rest }: TextProps<In, Out>) {
  const {
    field: { ref, value, onChange, onBlur },
    fieldState: { error },
  } = useController({ control, name });
  return <Field {...rest} ref={ref} value={value} error={error?.message} onText={onChange} onBlur={onBlur} />;
}

type NumberProps<In extends FieldValues, Out> = TextProps<In, Out> & { measure?: Measure };

/** A number, in the person's unit of its measure. */
export function NumberField<In extends FieldValues, Out>({
  measure = "plain",
  unit = measured(measure).unit,
  ...rest
}: NumberProps<In, Out>) {
  return <TextField {...rest} unit={unit} inputMode="decimal" />;
}

/** When, by the clock of the device that the form is on. */
export function MomentField<In extends FieldValues, Out>({ label, ...rest }: TextProps<In, Out>) {
  return <TextField {...rest} label={`${label}, by this device’s clock`} type="datetime-local" />;
}

interface JustNowProps<In extends FieldValues, Out> extends Bound<In, Out> {
  /** What happened, as a word before the time: "Moved". */
  what: string;
  /** The words while it is now. */
  now: string;
}

/** When something happened: just now, which is sent as nothing, unless the person says when. */
export function JustNowField<In extends FieldValues, Out>({ control, name, ...rest }: JustNowProps<In, Out>) {
  const {
    field: { value, onChange },
    fieldState: { error },
  } = useController({ control, name });
  return <JustNow {...rest} at={value === "" ? null : value} error={error?.message} onAt={onChange} />;
}

interface Options<Value> {
  label: string;
  options: readonly { value: Value; name: string; note?: ReactNode; disabled?: boolean }[];
  hint?: ReactNode;
}

/** One out of many. */
export function PickField<In extends FieldValues, Out, Value extends string | number>({
  control,
  name,
  ...rest
}: Bound<In, Out> & Options<Value>) {
  const {
    field: { ref, value, onChange },
    fieldState: { error },
  } = useController({ control, name });
  return <Picker {...rest} ref={ref} value={value} error={error?.message} onChoose={onChange} />;
}

interface FewProps<Value> {
  label: string;
  options: readonly { value: Value; name: string; note?: string }[];
  across?: boolean;
}

/** One out of a few, all in sight. */
export function ChoiceField<In extends FieldValues, Out, Value extends string | number>({
  control,
  name,
  ...rest
}: Bound<In, Out> & FewProps<Value>) {
  const {
    field: { value, onChange },
  } = useController({ control, name });
  return <Choice {...rest} value={value} onChoose={onChange} />;
}

/** Yes or no. */
export function TickField<In extends FieldValues, Out>({
  control,
  name,
  label,
}: Bound<In, Out> & { label: string }) {
  const {
    field: { value, onChange },
  } = useController({ control, name });
  return <Tick label={label} checked={value} onTick={onChange} />;
}

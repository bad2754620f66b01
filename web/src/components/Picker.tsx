import {
  Description,
  Label,
  Field,
  Listbox,
  ListboxButton,
  ListboxOption,
  ListboxOptions,
} from "@headlessui/react";
import type { ReactNode, Ref } from "react";
import { field } from "./classes";

interface Option<Value> {
  value: Value;
  name: string;
  note?: ReactNode;
  disabled?: boolean;
}

interface Props<Value> {
  label: string;
  options: readonly Option<Value>[];
  value: Value;
  onChoose: (value: Value) => void;
  /** Stands under the button: what the choice means. */
  hint?: ReactNode;
  error?: string | undefined;
  /** The label is there for the ear alone: the row shows it. */
  bare?: boolean;
  ref?: Ref<HTMLButtonElement>;
}

const option =
  "cursor-pointer px-2 py-1.5 data-disabled:cursor-not-allowed data-disabled:opacity-50 data-focus:bg-ground";
const list = "z-40 w-(--button-width) min-w-72 border-2 border-ink bg-paper outline-none";

/** One out of many, each with a note, behind a button. */
export function Picker<Value extends string | number>({
  label,
  options,
  value,
  onChoose,
  hint,
  error,
  bare = false,
  ref,
}: Props<Value>) {
  return (
    <Field>
      <Label className={bare ? "sr-only" : "mb-1 block text-sm text-muted"}>{label}</Label>
      <Listbox value={value} onChange={onChoose}>
        <ListboxButton ref={ref ?? null} className={`${field} flex justify-between font-bold`}>
          <span>{options.find((option) => option.value === value)?.name ?? "choose"}</span>
          <span aria-hidden>▾</span>
        </ListboxButton>
        <ListboxOptions modal={false} anchor="bottom start" className={list}>
          {options.map((choice) => (
            <ListboxOption
              key={choice.value}
              value={choice.value}
              disabled={choice.disabled ?? false}
              className={option}
            >
              <span className="font-bold">
                {choice.value === value ? "✓ " : ""}
                {choice.name}
              </span>
              {choice.note && <span className="block text-sm text-muted">{choice.note}</span>}
            </ListboxOption>
          ))}
        </ListboxOptions>
      </Listbox>
      {error !== undefined ? (
        <Description role="alert" className="mt-1 text-sm font-bold text-heat">
          {error}
        </Description>
      ) : (
        hint && <div className="mt-1 text-sm text-muted">{hint}</div>
      )}
    </Field>
  );
}

interface SomeProps {
  label: string;
  none: string;
  options: readonly Option<number>[];
  values: readonly number[];
  onChoose: (values: number[]) => void;
}

/** Some out of many, behind a button that tells them. */
export function SomePicker({ label, none, options, values, onChoose }: SomeProps) {
  const told = options.filter((option) => values.includes(option.value)).map((option) => option.name);
  return (
    <Field>
      <Label className="mb-1 block text-sm text-muted">{label}</Label>
      <Listbox multiple value={[...values]} onChange={onChoose}>
        <ListboxButton className={`${field} flex justify-between gap-2 text-left`}>
          <span>
            {told.length > 3
              ? `${told.length} of ${options.length}`
              : told.length > 0
                ? told.join(", ")
                : none}
          </span>
          <span aria-hidden>▾</span>
        </ListboxButton>
        <ListboxOptions modal={false} anchor="bottom start" className={list}>
          {options.map((choice) => (
            <ListboxOption
              key={choice.value}
              value={choice.value}
              className={`${option} flex justify-between gap-3`}
            >
              <span className={values.includes(choice.value) ? "font-bold" : ""}>
                {values.includes(choice.value) ? "✓ " : "+ "}
                {choice.name}
              </span>
              {choice.note && <span className="text-sm text-muted">{choice.note}</span>}
            </ListboxOption>
          ))}
        </ListboxOptions>
      </Listbox>
    </Field>
  );
}

import { Checkbox, Field, Label } from "@headlessui/react";
import type { ReactNode } from "react";

interface Props {
  label: ReactNode;
  checked: boolean;
  onTick: (checked: boolean) => void;
}

/** Something that is so, or not. */
export function Tick({ label, checked, onTick }: Props) {
  return (
    <Field className="flex items-start gap-2 max-sm:items-center">
      <Checkbox
        checked={checked}
        onChange={onTick}
        className="mt-0.5 flex size-5 shrink-0 cursor-pointer items-center justify-center border-2 border-ink bg-paper data-checked:bg-ink data-checked:text-paper max-sm:mt-0"
      >
        <span aria-hidden>{checked ? "✓" : ""}</span>
      </Checkbox>
      <Label className="cursor-pointer max-sm:py-2.5">{label}</Label>
    </Field>
  );
}

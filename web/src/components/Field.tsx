import { Description, Field as Group, Input, Label } from "@headlessui/react";
import type { InputHTMLAttributes, ReactNode, Ref } from "react";
import { field } from "./classes";

type Passed =
  "autoComplete" | "value" | "type" | "inputMode" | "maxLength" | "placeholder" | "onBlur" | "onKeyDown";

interface Props extends Pick<InputHTMLAttributes<HTMLInputElement>, Passed> {
  label: string;
  unit?: string;
  hint?: ReactNode;
  error?: string | undefined;
  large?: boolean;
  /** The label is there for the ear alone: the row or the placeholder shows it. */
  bare?: boolean;
  autoFocus?: boolean;
  ref?: Ref<HTMLInputElement>;
  onText: (text: string) => void;
}

/** A labelled text field with its unit, a hint, and the error that belongs to it. */
export function Field({ label, unit, hint, error, large = false, bare = false, onText, ...input }: Props) {
  const size = large ? "num text-5xl font-bold tracking-tight py-2" : unit ? "num" : "";
  return (
    <Group>
      <Label className={bare ? "sr-only" : "mb-1 block text-sm text-muted"}>
        {label}
        {unit && `, ${unit}`}
      </Label>
      <Input
        autoComplete="off"
        {...input}
        invalid={error !== undefined}
        className={`${field} ${size}`}
        onChange={(event) => {
          onText(event.target.value);
        }}
      />
      {error !== undefined ? (
        <Description role="alert" className="mt-1 text-sm font-bold text-heat">
          {error}
        </Description>
      ) : (
        hint && <Description className="mt-1 text-sm text-muted">{hint}</Description>
      )}
    </Group>
  );
}

import { useLayoutEffect, useRef, useState } from "react";
import { parseTyped } from "../domain/typed";
import { Field } from "./Field";

interface Props {
  label: string;
  unit: string;
  /** The number as it stands now, as text for the field. */
  shown: string;
  error: string | undefined;
  onCommit: (text: string) => void;
}

/**
 * A number field that is committed by Enter or on leaving it. While a text is typed, and while it is no number or was
 * refused, the text stays as it is: nothing typed is lost. Where an answer changes the number under the cursor before a
 * key is struck, the whole of it is selected: what is then typed replaces it and is never put on its end.
 */
export function CommittedNumber({ label, unit, shown, error, onCommit }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const [complaint, setComplaint] = useState<string>();

  const input = useRef<HTMLInputElement>(null);
  useLayoutEffect(() => {
    if (typed === null && document.activeElement === input.current) input.current?.select();
  }, [shown, typed]);

  function commit() {
    if (typed === null) return;
    if (parseTyped(typed) === null) {
      setComplaint(`“${typed}” is not a number. Give one in ${unit}.`);
      return;
    }
    onCommit(typed.trim());
    setTyped(null);
  }

  return (
    <Field
      ref={input}
      label={label}
      unit={unit}
      inputMode="decimal"
      value={typed ?? shown}
      error={complaint ?? (typed === null ? error : undefined)}
      onText={(text) => {
        setTyped(text);
        setComplaint(undefined);
      }}
      onBlur={commit}
      onKeyDown={(event) => {
        if (event.key === "Enter") commit();
      }}
    />
  );
}

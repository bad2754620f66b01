import {
  Combobox,
  ComboboxButton,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Field,
  Label,
} from "@headlessui/react";
import { useState } from "react";
import type { Lane } from "../../api/client";
import { field } from "../../components/classes";

interface Props {
  label: string;
  lanes: Lane[];
  lane: Lane | undefined;
  onPick: (id: number) => void;
}

/** Choose a spool by typing a part of its name, or from the list. */
export function SpoolPicker({ label, lanes, lane, onPick }: Props) {
  const [typed, setTyped] = useState("");
  const shown = lanes.filter((lane) => lane.spool.name.toLowerCase().includes(typed.trim().toLowerCase()));
  return (
    <Field>
      <Label className="text-sm text-muted">{label}</Label>
      <Combobox
        immediate
        value={lane ?? null}
        by={(a: Lane | null, b: Lane | null) => a?.spool.id === b?.spool.id}
        onChange={(choice) => {
          if (choice) onPick(choice.spool.id);
        }}
        onClose={() => {
          setTyped("");
        }}
      >
        <div className="relative">
          <ComboboxInput
            autoComplete="off"
            className={`${field} pr-8 text-xl font-bold`}
            displayValue={(choice: Lane | null) => choice?.spool.name ?? ""}
            onFocus={(event) => {
              event.currentTarget.select();
            }}
            onChange={(event) => {
              setTyped(event.target.value);
            }}
          />
          <ComboboxButton aria-label="All spools" className="absolute inset-y-0 right-0 px-3">
            ▾
          </ComboboxButton>
        </div>
        <ComboboxOptions
          modal={false}
          anchor="bottom start"
          className="z-40 w-(--input-width) border-2 border-ink bg-paper empty:invisible"
        >
          {shown.map((choice) => (
            <ComboboxOption
              key={choice.spool.id}
              value={choice}
              className="flex cursor-pointer justify-between gap-2 px-2 py-1 data-focus:bg-ground"
            >
              <span>{choice.spool.name}</span>
              <span className="text-muted">{choice.run ? "drying" : choice.material_short}</span>
            </ComboboxOption>
          ))}
        </ComboboxOptions>
      </Combobox>
    </Field>
  );
}

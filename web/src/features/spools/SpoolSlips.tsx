import { Button } from "@headlessui/react";
import { useState } from "react";
import { type Lane } from "../../api/client";
import { useNoteMoisture, useUseFilament } from "./acts";
import { typedMass } from "../../domain/quantities";
import { fromLocalField, toLocalField } from "../../domain/times";
import { massUnit } from "../../domain/units";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { Slip } from "../../components/Slip";
import { primary } from "../../components/classes";
import { refusal } from "../../components/refusal";

interface Props {
  spool: Lane["spool"];
  onClose: () => void;
}

/** A time is sent only where it was changed: the field shows whole minutes, and "just now" is meant to the second. */
const atOf = (text: string, shown: string) => {
  const at = text === shown ? null : fromLocalField(text);
  return at === null ? {} : { at };
};

/** How wet a spool is, from a knowledge of one's own. */
export function MoistureSlip({ spool, onClose }: Props) {
  const { notify } = useShell();
  const note = useNoteMoisture();
  const [shown] = useState(() => toLocalField(new Date()));
  const [text, setText] = useState({ moisture: "", spread: "", at: shown });
  const { of } = refusal(note.error);
  const write = (name: keyof typeof text) => (value: string) => {
    setText({ ...text, [name]: value });
    note.reset();
  };
  return (
    <Slip
      title={`How wet is ${spool.name}?`}
      onClose={onClose}
      onSubmit={() => {
        note.mutate(
          {
            spool: spool.id,
            body: { moisture_pct: text.moisture, plus_minus_pct: text.spread, ...atOf(text.at, shown) },
          },
          {
            onSuccess: ({ undo }) => {
              onClose();
              notify({ text: `Noted how wet ${spool.name} is.`, undo });
            },
          },
        );
      }}
    >
      <Field
        label="Water, of the dry plastic"
        unit="%"
        inputMode="decimal"
        value={text.moisture}
        error={of("moisture_pct")}
        onText={write("moisture")}
        autoFocus
      />
      <Field
        label="Give or take"
        unit="%"
        inputMode="decimal"
        value={text.spread}
        hint="Two standard uncertainties: right in 19 cases of 20."
        error={of("plus_minus_pct")}
        onText={write("spread")}
      />
      <Field
        label="At, by this device's clock"
        type="datetime-local"
        value={text.at}
        error={of("at")}
        onText={write("at")}
      />
      <Button type="submit" className={`${primary} justify-center`} disabled={note.isPending}>
        Save
      </Button>
    </Slip>
  );
}

/** Filament that was printed. */
export function UseSlip({ spool, onClose }: Props) {
  const { notify } = useShell();
  const use = useUseFilament();
  const [shown] = useState(() => toLocalField(new Date()));
  const [text, setText] = useState({ mass: "", note: "", at: shown });
  const { of } = refusal(use.error);
  const write = (name: keyof typeof text) => (value: string) => {
    setText({ ...text, [name]: value });
    use.reset();
  };
  return (
    <Slip
      title={`Printed off ${spool.name}`}
      onClose={onClose}
      onSubmit={() => {
        use.mutate(
          {
            spool: spool.id,
            body: { mass_g: typedMass(text.mass), note: text.note, ...atOf(text.at, shown) },
          },
          {
            onSuccess: ({ undo }) => {
              onClose();
              notify({ text: `Noted what was printed off ${spool.name}.`, undo });
            },
          },
        );
      }}
    >
      <Field
        label="Filament used"
        unit={massUnit()}
        inputMode="decimal"
        value={text.mass}
        hint="As the file says; taken to be right to a tenth."
        error={of("mass_g")}
        onText={write("mass")}
        autoFocus
      />
      <Field
        label="What it was"
        value={text.note}
        maxLength={120}
        error={of("note")}
        onText={write("note")}
      />
      <Field
        label="At, by this device's clock"
        type="datetime-local"
        value={text.at}
        error={of("at")}
        onText={write("at")}
      />
      <Button type="submit" className={`${primary} justify-center`} disabled={use.isPending}>
        Save
      </Button>
    </Slip>
  );
}

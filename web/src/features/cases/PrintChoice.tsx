import type { Print } from "../../api/client";
import { when } from "../../domain/times";
import { Picker } from "../../components/Picker";

interface Props {
  label: string;
  prints: readonly Print[];
  value: number | null;
  onChoose: (print: number | null) => void;
}

const NONE = 0;

/** One of a spool's prints, or none. */
export function PrintChoice({ label, prints, value, onChoose }: Props) {
  const now = new Date();
  return (
    <Picker
      label={label}
      value={value ?? NONE}
      options={[
        { value: NONE, name: "none noted" },
        ...prints.map((print) => ({
          value: print.id,
          name: print.name,
          note: `${when(new Date(print.at), now)}${print.file ? `, ${print.file.name}` : ""}`,
        })),
      ]}
      onChoose={(chosen) => {
        onChoose(chosen === NONE ? null : chosen);
      }}
    />
  );
}

import { Picker } from "../../components/Picker";
import { TARE_WORDS } from "./words";

export type TareMethod = keyof typeof TARE_WORDS;

const OPTIONS = Object.entries(TARE_WORDS).map(([value, it]) => ({
  value: value as TareMethod,
  name: it.name,
  note: it.note,
}));

interface Props {
  label: string;
  value: TareMethod;
  onChoose: (method: TareMethod) => void;
}

/** How the mass of the empty spool is known. */
export function TarePicker({ label, value, onChoose }: Props) {
  return <Picker label={label} value={value} options={OPTIONS} onChoose={onChoose} />;
}

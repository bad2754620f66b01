import { Button } from "@headlessui/react";
import { useState } from "react";
import { type CaseFacts } from "../../api/client";
import { useNoteStrength } from "./acts";
import { numbersIn } from "../../domain/typed";
import { refusal } from "../../components/refusal";
import { useShell } from "../../components/shell";
import { Choice } from "../../components/Choice";
import { Field } from "../../components/Field";
import { Slip } from "../../components/Slip";
import { primary } from "../../components/classes";
import { Alert } from "../../components/Alert";

type Strength = CaseFacts["strengths"][number];

const METHODS = [
  { value: "pull", name: "pulled" },
  { value: "flex", name: "bent" },
] as const;
const POSES = [
  { value: "standing", name: "printed standing" },
  { value: "lying", name: "printed lying" },
] as const;

/** Bars broken before and after. Strength across layers, in standing bars, changes first. */
export function StrengthSlip({ page, onClose }: { page: CaseFacts; onClose: () => void }) {
  const note = useNoteStrength();
  const { notify } = useShell();
  const [method, setWay] = useState<Strength["method"]>("pull");
  const [pose, setPose] = useState<Strength["pose"]>("standing");
  const [unit, setUnit] = useState("N");
  const [before, setBefore] = useState("");
  const [after, setAfter] = useState("");
  const { refused, of } = refusal(note.error);
  return (
    <Slip
      title="Strength before and after"
      onClose={onClose}
      onSubmit={() => {
        note.mutate(
          {
            id: page.case.id,
            body: { method, pose, unit, before: numbersIn(before), after: numbersIn(after) },
          },
          {
            onSuccess: ({ undo }) => {
              onClose();
              notify({ text: "Saved the strengths.", undo });
            },
          },
        );
      }}
    >
      <Choice label="The bars were" value={method} options={METHODS} onChoose={setWay} across />
      <Choice label="and" value={pose} options={POSES} onChoose={setPose} across />
      <Field label="Unit of the values" value={unit} maxLength={12} error={of("unit")} onText={setUnit} />
      <Field
        label="Before drying"
        unit={unit}
        value={before}
        hint="every bar’s value, with spaces between"
        error={of("before")}
        onText={setBefore}
      />
      <Field
        label="After drying"
        unit={unit}
        value={after}
        hint="one bar a side tells no uncertainty; three or more do"
        error={of("after")}
        onText={setAfter}
      />
      <p className="border-l-4 border-heat pl-2 text-sm">
        Bars break suddenly: wear eye protection and keep your fingers away.
      </p>
      {refused && !of("before") && !of("after") && !of("unit") && <Alert>{refused.message}</Alert>}
      <Button type="submit" className={`${primary} self-start`} disabled={note.isPending}>
        Save
      </Button>
    </Slip>
  );
}

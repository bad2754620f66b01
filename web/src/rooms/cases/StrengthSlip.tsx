import { Button } from "@headlessui/react";
import { useState } from "react";
import { type CasePage } from "../../api/client";
import { useNoteStrength } from "../../api/caseMutations";
import { numbersIn } from "../../format/typed";
import { refusal } from "../../ui/refusal";
import { useShell } from "../../shell/shell";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { Slip } from "../../ui/Slip";
import { primary } from "../../ui/classes";
import { Alert } from "../../ui/Alert";

type Strength = CasePage["strengths"][number];

const WAYS = [
  { value: "pull", name: "pulled" },
  { value: "flex", name: "bent" },
] as const;
const POSES = [
  { value: "standing", name: "printed standing" },
  { value: "lying", name: "printed lying" },
] as const;

/** Bars broken before and after. Strength across layers, in standing bars, changes first. */
export function StrengthSlip({ page, onClose }: { page: CasePage; onClose: () => void }) {
  const note = useNoteStrength();
  const { notify } = useShell();
  const [way, setWay] = useState<Strength["way"]>("pull");
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
          { id: page.case.id, body: { way, pose, unit, before: numbersIn(before), after: numbersIn(after) } },
          {
            onSuccess: ({ undo }) => {
              onClose();
              notify({ text: "Kept the strengths.", undo });
            },
          },
        );
      }}
    >
      <Choice label="The bars were" value={way} options={WAYS} onChoose={setWay} across />
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
        Bars break with a jerk: eye protection, fingers away.
      </p>
      {refused && !of("before") && !of("after") && !of("unit") && <Alert>{refused.message}</Alert>}
      <Button type="submit" className={`${primary} self-start`} disabled={note.isPending}>
        Keep
      </Button>
    </Slip>
  );
}

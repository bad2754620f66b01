import { type CaseFacts } from "../../api/client";
import { useNoteStrength } from "./acts";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { useWatch } from "react-hook-form";
import { ChoiceField, TextField } from "../../forms/fields";
import { someNumbers, words } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

type Strength = CaseFacts["strengths"][number];

const METHODS = [
  { value: "pull", name: "pulled" },
  { value: "flex", name: "bent" },
] as const;
const POSES = [
  { value: "standing", name: "printed standing" },
  { value: "lying", name: "printed lying" },
] as const;

const SHAPE = z.object({
  method: z.custom<Strength["method"]>(),
  pose: z.custom<Strength["pose"]>(),
  unit: words("the unit of the values", "N"),
  before: someNumbers("every bar’s value before drying", "310 298 305"),
  after: someNumbers("every bar’s value after drying", "402 395 411"),
});

/** Bars broken before and after. Strength across layers, in standing bars, changes first. */
export function StrengthSlip({ page, onClose }: { page: CaseFacts; onClose: () => void }) {
  const note = useNoteStrength();
  const { notify } = useShell();
  const form = useActForm(SHAPE, { method: "pull", pose: "standing", unit: "N", before: "", after: "" });
  const { control } = form;
  const unit = useWatch({ control, name: "unit" });
  const submit = form.submit(async (body) => {
    const { undo } = await note.mutateAsync({ id: page.case.id, body });
    onClose();
    notify({ text: "Saved the strengths.", undo });
  });
  return (
    <Slip title="Strength before and after" problem={form.problem} onClose={onClose} onSubmit={submit}>
      <ChoiceField control={control} name="method" label="The bars were" options={METHODS} across />
      <ChoiceField control={control} name="pose" label="and" options={POSES} across />
      <TextField control={control} name="unit" label="Unit of the values" maxLength={12} />
      <TextField
        control={control}
        name="before"
        label="Before drying"
        unit={unit}
        hint="every bar’s value, with spaces between"
      />
      <TextField
        control={control}
        name="after"
        label="After drying"
        unit={unit}
        hint="with one bar a side the uncertainty is unknown; break three or more"
      />
      <p className="border-l-4 border-heat pl-2 text-sm">
        Bars break suddenly: wear eye protection and keep your fingers away.
      </p>
      <Button type="submit" kind="primary" className="self-start" disabled={form.busy}>
        Save
      </Button>
    </Slip>
  );
}

import { type CaseFacts } from "../../api/client";
import { useAddOwn } from "./acts";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { ChoiceField, PickField, TextField } from "../../forms/fields";
import { words } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

const STRENGTHS = [
  { value: 1.5, name: "a little likelier", note: "one and a half times" },
  { value: 3, name: "likelier", note: "three times" },
  { value: 10, name: "much likelier", note: "ten times" },
] as const;

const SHAPE = z.object({
  text: words("what you saw", "it smelled sour"),
  side: z.enum(["water", "other"]),
  times: z.number(),
});

const SIDES = [
  { value: "water", name: "when it is the water" },
  { value: "other", name: "when it is something else" },
] as const;

/** Something that no sign of the table stands for, with odds of the person's own. */
export function OwnSlip({ page, onClose }: { page: CaseFacts; onClose: () => void }) {
  const add = useAddOwn();
  const { notify } = useShell();
  const form = useActForm(SHAPE, { text: "", side: "water", times: 3 });
  const { control } = form;
  const submit = form.submit(async ({ text, side, times }) => {
    const body = { text, times: side === "water" ? times : 1 / times };
    const { undo } = await add.mutateAsync({ id: page.case.id, body });
    onClose();
    notify({ text: `Added to the case: ${text}.`, undo });
  });
  return (
    <Slip title="Something else that you saw" problem={form.problem} onClose={onClose} onSubmit={submit}>
      <TextField
        control={control}
        name="text"
        label="What it was"
        maxLength={120}
        autoFocus
        hint="such as: smelled sour, or only the side by the door"
      />
      <ChoiceField control={control} name="side" label="You would see it more often" options={SIDES} />
      <PickField control={control} name="times" label="By how much" options={STRENGTHS} />
      <Button kind="primary" type="submit" className="self-start" disabled={form.busy}>
        Save
      </Button>
    </Slip>
  );
}

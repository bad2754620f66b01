import { Button } from "@headlessui/react";
import { useState } from "react";
import { type CaseFacts } from "../../api/client";
import { useAddOwn } from "./acts";
import { useShell } from "../../components/shell";
import { Choice } from "../../components/Choice";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { Slip } from "../../components/Slip";
import { primary } from "../../components/classes";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

const STRENGTHS = [
  { value: 1.5, name: "a little likelier", note: "one and a half times" },
  { value: 3, name: "likelier", note: "three times" },
  { value: 10, name: "much likelier", note: "ten times" },
] as const;

/** Something that no sign of the table stands for, with odds of the person's own. */
export function OwnSlip({ page, onClose }: { page: CaseFacts; onClose: () => void }) {
  const add = useAddOwn();
  const { notify } = useShell();
  const [text, setText] = useState("");
  const [side, setSide] = useState<"water" | "other">("water");
  const [times, setTimes] = useState<number>(3);
  const { refused } = refusal(add.error);
  return (
    <Slip
      title="Something else that you saw"
      onClose={onClose}
      onSubmit={() => {
        add.mutate(
          { id: page.case.id, body: { text, times: side === "water" ? times : 1 / times } },
          {
            onSuccess: ({ undo }) => {
              onClose();
              notify({ text: `Laid before the case: ${text}.`, undo });
            },
          },
        );
      }}
    >
      <Field
        label="What it was"
        value={text}
        maxLength={120}
        autoFocus
        hint="such as: smelled sour, or only the side by the door"
        error={refused?.field === "text" ? refused.message : undefined}
        onText={setText}
      />
      <Choice
        label="You would see it more often"
        value={side}
        options={[
          { value: "water", name: "when it is the water" },
          { value: "other", name: "when it is something else" },
        ]}
        onChoose={setSide}
      />
      <Picker label="By how much" value={times} options={STRENGTHS} onChoose={setTimes} />
      {refused && refused.field !== "text" && <Alert>{refused.message}</Alert>}
      <Button type="submit" className={`${primary} self-start`} disabled={add.isPending}>
        Save
      </Button>
    </Slip>
  );
}

import { Button } from "@headlessui/react";
import { useState } from "react";
import { type CaseFacts, type CauseId, type VerdictKind } from "../../api/client";
import { useCloseCase } from "./acts";
import { useShell } from "../../components/shell";
import { Choice } from "../../components/Choice";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { Slip } from "../../components/Slip";
import { primary } from "../../components/classes";
import { CAUSE_STEPS, CAUSE_WORDS, chances, VERDICT_WORDS, verdictSentence } from "./caseWords";
import { thresholdMove } from "../materials/thresholdWords";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

const KINDS = Object.keys(VERDICT_WORDS) as VerdictKind[];
const NAMES_A_CAUSE: readonly VerdictKind[] = ["water_and_other", "other"];

/** Close the case: the verdict, the other cause where there is one, and what it will make of the thresholds. */
export function VerdictSlip({ page, onClose }: { page: CaseFacts; onClose: () => void }) {
  const close = useCloseCase();
  const { notify } = useShell();
  const [kind, setKind] = useState<VerdictKind>(page.evidence.suggested);
  const [cause, setCause] = useState<CauseId>(page.evidence.other);
  const [note, setNote] = useState("");
  const named = NAMES_A_CAUSE.includes(kind);
  const { refused } = refusal(close.error);
  return (
    <Slip
      title="How does it stand?"
      onClose={onClose}
      onSubmit={() => {
        close.mutate(
          { id: page.case.id, body: { kind, cause: named ? cause : "", note } },
          {
            onSuccess: ({ undo }) => {
              onClose();
              notify({ text: `Closed. ${verdictSentence({ kind, cause: named ? cause : "" })}`, undo });
            },
          },
        );
      }}
    >
      <p className="text-sm text-muted">
        The evidence says {chances(page.evidence.p_water)} that it was the water. The verdict is yours.
      </p>
      <Choice
        label="Verdict"
        value={kind}
        options={KINDS.map((it) => ({ value: it, ...VERDICT_WORDS[it] }))}
        onChoose={setKind}
      />
      {named && (
        <Picker
          label="What else"
          value={cause}
          options={(Object.keys(CAUSE_WORDS) as CauseId[])
            .filter((it) => it !== "water")
            .map((it) => ({ value: it, name: CAUSE_WORDS[it] }))}
          hint={CAUSE_STEPS[cause]}
          onChoose={setCause}
        />
      )}
      <Field label="Note" value={note} maxLength={400} onText={setNote} />
      <p className="text-sm">{lessonLine(page, kind)}</p>
      {refused && <Alert>{refused.message}</Alert>}
      <Button type="submit" className={`${primary} self-start`} disabled={close.isPending}>
        Close the case
      </Button>
    </Slip>
  );
}

function lessonLine(page: CaseFacts, kind: VerdictKind): string {
  const { thresholds } = page;
  if (!thresholds) return "";
  if (thresholds.typed)
    return `You set the thresholds of ${page.material_short} yourself, so cases leave them alone.`;
  const after = thresholds.if_closed.find((it) => it.kind === kind)?.thresholds;
  if (!after)
    return kind === "no_finding"
      ? "With no finding, the thresholds stay as they are."
      : "Its moisture was not known, so the thresholds stay as they are.";
  return `Trouble threshold of ${page.material_short}: ${thresholdMove(thresholds.now, after)}. It can be undone.`;
}

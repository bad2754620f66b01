import { type CaseFacts, type CauseId, type VerdictKind } from "../../api/client";
import { useCloseCase } from "./acts";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { CAUSE_STEPS, CAUSE_WORDS, chances, VERDICT_WORDS, verdictSentence } from "./caseWords";
import { thresholdMove } from "../materials/thresholdWords";
import { useWatch } from "react-hook-form";
import { ChoiceField, PickField, TextField } from "../../forms/fields";
import { maybeWords } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

const KINDS = Object.keys(VERDICT_WORDS) as VerdictKind[];
const NAMES_A_CAUSE: readonly VerdictKind[] = ["water_and_other", "other"];

const SHAPE = z.object({
  kind: z.custom<VerdictKind>(),
  cause: z.custom<CauseId>(),
  note: maybeWords,
});

/** Close the case: the verdict, the other cause where there is one, and what it will make of the thresholds. */
export function VerdictSlip({ page, onClose }: { page: CaseFacts; onClose: () => void }) {
  const close = useCloseCase();
  const { notify } = useShell();
  const form = useActForm(SHAPE, { kind: page.evidence.suggested, cause: page.evidence.other, note: "" });
  const { control } = form;
  const [kind, cause] = useWatch({ control, name: ["kind", "cause"] });
  const submit = form.submit(async ({ note, ...values }) => {
    const verdict = { ...values, cause: NAMES_A_CAUSE.includes(values.kind) ? values.cause : ("" as const) };
    const { undo } = await close.mutateAsync({ id: page.case.id, body: { ...verdict, note } });
    onClose();
    notify({ text: `Closed. ${verdictSentence(verdict)}`, undo });
  });
  return (
    <Slip title="How does it stand?" problem={form.problem} onClose={onClose} onSubmit={submit}>
      <p className="text-sm text-muted">
        The evidence says {chances(page.evidence.p_water)} that it was the water. The verdict is yours.
      </p>
      <ChoiceField
        control={control}
        name="kind"
        label="Verdict"
        options={KINDS.map((kind) => ({ value: kind, ...VERDICT_WORDS[kind] }))}
      />
      {NAMES_A_CAUSE.includes(kind) && (
        <PickField
          control={control}
          name="cause"
          label="What else"
          options={(Object.keys(CAUSE_WORDS) as CauseId[])
            .filter((key) => key !== "water")
            .map((key) => ({ value: key, name: CAUSE_WORDS[key] }))}
          hint={CAUSE_STEPS[cause]}
        />
      )}
      <TextField control={control} name="note" label="Note" maxLength={400} />
      <p className="text-sm">{lessonLine(page, kind)}</p>
      <Button kind="primary" type="submit" className="self-start" disabled={form.busy}>
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
  const after = thresholds.if_closed.find((outcome) => outcome.kind === kind)?.thresholds;
  if (!after)
    return kind === "no_finding"
      ? "With no finding, the thresholds stay as they are."
      : "Its moisture was not known, so the thresholds stay as they are.";
  return `Trouble threshold of ${page.material_short}: ${thresholdMove(thresholds.now, after)}. It can be undone.`;
}

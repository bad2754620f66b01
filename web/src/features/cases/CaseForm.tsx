import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { type CaseFacts } from "../../api/client";
import { useChangeCase, useRemoveCase } from "./acts";
import { prints as printsQuery } from "./queries";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { PrintChoice } from "./PrintChoice";
import { useWatch } from "react-hook-form";
import { toLocalField } from "../../domain/times";
import { MomentField, TextField } from "../../forms/fields";
import { moment, words } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

const SHAPE = z.object({
  title: words("a title", "strings on the funnel"),
  before: z.number().nullable(),
  after: z.number().nullable(),
  printed_at: moment,
});

/** A case's own data: its title, when it was printed, and the prints before and after. */
export function CaseForm({ page, onClose }: { page: CaseFacts; onClose: () => void }) {
  const change = useChangeCase();
  const navigate = useNavigate();
  const { notify } = useShell();
  const remove = useRemoveCase((undo) => {
    void navigate("/cases");
    notify({ text: `Removed ${page.case.title}.`, undo });
  });
  const { data: prints = [] } = useQuery(printsQuery(page.case.spool));
  const form = useActForm(SHAPE, {
    title: page.case.title,
    before: page.before?.id ?? null,
    after: page.after?.id ?? null,
    printed_at: toLocalField(new Date(page.case.printed_at)),
  });
  const { control, set } = form;
  const [before, after] = useWatch({ control, name: ["before", "after"] });
  const submit = form.submit(async ({ printed_at, ...values }) => {
    const body = { ...values, ...(values.before === null ? { printed_at } : {}) };
    const { undo } = await change.mutateAsync({ id: page.case.id, body });
    onClose();
    notify({ text: `Changed ${values.title}.`, undo });
  });
  return (
    <Slip title="Change the case" problem={form.problem} onClose={onClose} onSubmit={submit}>
      <TextField control={control} name="title" label="Title" maxLength={120} />
      <PrintChoice
        label="The bad print"
        prints={prints}
        value={before}
        onChoose={(print) => {
          set("before", print);
        }}
      />
      {before === null && <MomentField control={control} name="printed_at" label="Printed at" />}
      <PrintChoice
        label="The print after drying"
        prints={prints}
        value={after}
        onChoose={(print) => {
          set("after", print);
        }}
      />
      <div className="flex items-center gap-4">
        <Button kind="primary" type="submit" disabled={form.busy}>
          Save
        </Button>
        <Button
          kind="link"
          onClick={() => {
            remove.mutate(page.case.id, { onError: form.refuse });
          }}
        >
          remove the case
        </Button>
      </div>
    </Slip>
  );
}

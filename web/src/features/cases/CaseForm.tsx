import { Button } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { type CaseFacts } from "../../api/client";
import { useChangeCase, useRemoveCase } from "./acts";
import { prints as printsQuery } from "./queries";
import { fromLocalField, toLocalField } from "../../domain/times";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { Slip } from "../../components/Slip";
import { link, primary } from "../../components/classes";
import { PrintChoice } from "./PrintChoice";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

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
  const [title, setTitle] = useState(page.case.title);
  const [at, setAt] = useState(toLocalField(new Date(page.case.printed_at)));
  const [before, setBefore] = useState(page.before?.id ?? null);
  const [after, setAfter] = useState(page.after?.id ?? null);
  const failed = change.error ?? remove.error;
  const { refused } = refusal(failed);
  const when = fromLocalField(at);
  return (
    <Slip
      title="Change the case"
      onClose={onClose}
      onSubmit={() => {
        const printed = before === null && when !== null ? { printed_at: when } : {};
        change.mutate(
          { id: page.case.id, body: { title, before, after, ...printed } },
          {
            onSuccess: ({ undo }) => {
              onClose();
              notify({ text: `Changed ${title}.`, undo });
            },
          },
        );
      }}
    >
      <Field
        label="Title"
        value={title}
        maxLength={120}
        error={refused?.field === "title" ? refused.message : undefined}
        onText={setTitle}
      />
      <PrintChoice label="The bad print" prints={prints} value={before} onChoose={setBefore} />
      {before === null && (
        <Field
          label="Printed at, by this device’s clock"
          type="datetime-local"
          value={at}
          error={when === null ? "Give a date and a time." : undefined}
          onText={setAt}
        />
      )}
      <PrintChoice label="The print after drying" prints={prints} value={after} onChoose={setAfter} />
      {refused && refused.field !== "title" && <Alert>{refused.message}</Alert>}
      <div className="flex items-center gap-4">
        <Button type="submit" className={primary} disabled={change.isPending}>
          Save
        </Button>
        <Button
          type="button"
          className={link}
          onClick={() => {
            remove.mutate(page.case.id);
          }}
        >
          remove the case
        </Button>
      </div>
    </Slip>
  );
}

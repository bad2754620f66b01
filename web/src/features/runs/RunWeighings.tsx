import { useState } from "react";
import { Link } from "react-router";
import * as z from "zod";
import type { RunSheet } from "../../api/client";
import { Button } from "../../components/Button";
import { RemoveButton } from "../../components/RemoveButton";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { shownIn } from "../../domain/measures";
import { scaleDecimals } from "../../domain/numbers";
import { mass } from "../../domain/quantities";
import { toLocalField, when } from "../../domain/times";
import { MomentField, NumberField, TextField, TickField } from "../../forms/fields";
import { maybeWords, moment, quantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { useCorrectWeighing, useRemoveWeighing } from "./acts";

type Seen = RunSheet["seen"][number];

/** The weighings of a run; each can be put right or removed, also long after. */
export function RunWeighings({ sheet, now }: { sheet: RunSheet; now: Date }) {
  const [mended, setMended] = useState<Seen>();
  const removal = useRemoveWeighing();
  return (
    <section>
      <h2>Weighings</h2>
      {sheet.seen.length === 0 && (
        <p className="text-sm">
          None. <Link to="/plan">Weigh in</Link> at the start of the next run to learn what it does.
        </p>
      )}
      <ul className="text-sm">
        {sheet.seen.map((seen) => {
          const at = when(new Date(seen.at), now);
          return (
            <li key={seen.id} className="border-b border-line py-1">
              <span className="flex justify-between gap-2">
                <span className="text-muted">
                  {at}, {seen.scale_name}
                </span>
                <span className="num font-bold">{mass(seen.gross_g, scaleDecimals(seen.resolution_g))}</span>
              </span>
              <span className="flex justify-between gap-2">
                <span className="text-muted">
                  {[seen.doubtful ? "doubtful: counts for nothing" : "", seen.note]
                    .filter(Boolean)
                    .join("; ")}
                </span>
                <span className="flex gap-3 print:hidden">
                  <Button
                    kind="link"
                    aria-label={`Change the weighing of ${at}`}
                    onClick={() => {
                      setMended(seen);
                    }}
                  >
                    change
                  </Button>
                  <RemoveButton
                    removal={removal}
                    id={seen.id}
                    label={`Remove the weighing of ${at}`}
                    done={`Removed the weighing of ${at}.`}
                  />
                </span>
              </span>
            </li>
          );
        })}
      </ul>
      {mended && (
        <MendSlip
          seen={mended}
          onClose={() => {
            setMended(undefined);
          }}
        />
      )}
    </section>
  );
}

const SHAPE = z.object({
  gross_g: quantity("mass", "what the scale read", 858.4),
  at: moment,
  note: maybeWords,
  warm: z.boolean(),
  surface_wet: z.boolean(),
  doubtful: z.boolean(),
});

function MendSlip({ seen, onClose }: { seen: Seen; onClose: () => void }) {
  const { notify } = useShell();
  const correct = useCorrectWeighing();
  const [shown] = useState(() => toLocalField(new Date(seen.at)));
  const [key] = useState(() => crypto.randomUUID());
  const form = useActForm(SHAPE, {
    gross_g: shownIn("mass", seen.gross_g),
    at: shown,
    ...{ note: seen.note, warm: seen.warm, surface_wet: seen.surface_wet, doubtful: seen.doubtful },
  });
  const { control } = form;
  const submit = form.submit(async ({ at, ...values }) => {
    const body = {
      ...values,
      at: at === shown ? seen.at : at,
      scale: seen.scale,
      weighed_object: seen.weighed_object,
      client_key: key,
    };
    const { undo, weighing } = await correct.mutateAsync({ id: seen.id, body });
    onClose();
    notify({ text: `Corrected to ${mass(weighing.gross_g, scaleDecimals(seen.resolution_g))}.`, undo });
  });
  return (
    <Slip title="Change a weighing" problem={form.problem} onClose={onClose} onSubmit={submit}>
      <NumberField control={control} name="gross_g" label="The scale read" measure="mass" autoFocus />
      <MomentField control={control} name="at" label="Weighed at" />
      <TickField control={control} name="warm" label="it was still warm" />
      <TickField control={control} name="surface_wet" label="it was wet on the surface" />
      <TickField control={control} name="doubtful" label="save it although water cannot explain it" />
      <TextField control={control} name="note" label="Note" maxLength={200} />
      <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
        Save
      </Button>
    </Slip>
  );
}

import { useState } from "react";
import { type Material } from "../../api/client";
import { useDropProgramme, useSetProgramme } from "./acts";
import { hours } from "../../domain/numbers";
import { temp } from "../../domain/quantities";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { PROGRAMME_TERMS } from "./words";
import { shownIn } from "../../domain/measures";
import { NumberField } from "../../forms/fields";
import { quantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

type Row = Material["programmes"][number];

/** What each method sets with this material, and the person's own programme. */
export function ProgrammeTable({ material }: { material: Material }) {
  const { notify } = useShell();
  const drop = useDropProgramme();
  const [editing, setEditing] = useState<Row | null>(null);
  return (
    <section>
      <h2 className="mb-1">What each method sets: air at the spool, hours of heat</h2>
      <ul className="grid gap-1 sm:grid-cols-2 xl:grid-cols-4">
        {material.programmes.map((row) => (
          <li key={row.name} className="flex flex-col bg-paper px-3 py-2">
            <strong>{PROGRAMME_TERMS[row.name]}</strong>
            <span className="num">
              {row.now ? `${temp(row.now.temp_c)}, ${hours(row.now.duration_h)}` : "none"}
            </span>
            {row.own && row.built_in && (
              <span className="text-sm text-muted">
                built in: {temp(row.built_in.temp_c)}, {hours(row.built_in.duration_h)}
              </span>
            )}
            <span className="mt-1 flex gap-4 text-sm">
              <Button
                kind="link"
                aria-label={`Change ${PROGRAMME_TERMS[row.name]}`}
                onClick={() => {
                  setEditing(row);
                }}
              >
                change
              </Button>
              {row.own && (
                <Button
                  kind="link"
                  aria-label={`Go back from your own ${PROGRAMME_TERMS[row.name]}`}
                  onClick={() => {
                    drop.mutate(
                      { id: material.id, name: row.name },
                      {
                        onSuccess: ({ undo }) => {
                          notify({ text: `Removed your own ${PROGRAMME_TERMS[row.name]}.`, undo });
                        },
                      },
                    );
                  }}
                >
                  go back
                </Button>
              )}
            </span>
          </li>
        ))}
      </ul>
      {editing && (
        <ProgrammeSlip
          material={material}
          row={editing}
          onClose={() => {
            setEditing(null);
          }}
        />
      )}
    </section>
  );
}

const SHAPE = z.object({
  temp_c: quantity("temp", "the temperature of the air", 65),
  duration_h: quantity("plain", "the hours of heat", 8),
});

function ProgrammeSlip({ material, row, onClose }: { material: Material; row: Row; onClose: () => void }) {
  const { notify } = useShell();
  const set = useSetProgramme();
  const form = useActForm(SHAPE, {
    temp_c: shownIn("temp", row.now?.temp_c),
    duration_h: shownIn("plain", row.now?.duration_h),
  });
  const { control } = form;
  const name = PROGRAMME_TERMS[row.name];
  const submit = form.submit(async (body) => {
    const { undo } = await set.mutateAsync({ id: material.id, name: row.name, body });
    onClose();
    notify({ text: `Saved ${name} for ${material.name}.`, undo });
  });
  return (
    <Slip title={`${name}, for ${material.name}`} problem={form.problem} onClose={onClose} onSubmit={submit}>
      <NumberField control={control} name="temp_c" label="Air at the spool" measure="temp" autoFocus />
      <NumberField control={control} name="duration_h" label="Heat for" unit="h" />
      <Button kind="primary" type="submit" className="self-start" disabled={form.busy}>
        Save
      </Button>
    </Slip>
  );
}

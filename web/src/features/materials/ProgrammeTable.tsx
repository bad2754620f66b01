import { Button } from "@headlessui/react";
import { useState } from "react";
import { type Material } from "../../api/client";
import { useDropProgramme, useSetProgramme } from "./acts";
import { hours } from "../../domain/numbers";
import { bareTemp, temp, typedTemp } from "../../domain/quantities";
import { tempUnit } from "../../domain/units";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { Slip } from "../../components/Slip";
import { link, primary } from "../../components/classes";
import { SCHOOL_TERMS } from "./words";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

type Row = Material["programmes"][number];

/** What each school sets with this material, and the person's own programme. */
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
            <strong>{SCHOOL_TERMS[row.name]}</strong>
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
                className={link}
                aria-label={`Change ${SCHOOL_TERMS[row.name]}`}
                onClick={() => {
                  setEditing(row);
                }}
              >
                change
              </Button>
              {row.own && (
                <Button
                  className={link}
                  aria-label={`Go back from your own ${SCHOOL_TERMS[row.name]}`}
                  onClick={() => {
                    drop.mutate(
                      { id: material.id, name: row.name },
                      {
                        onSuccess: ({ undo }) => {
                          notify({ text: `Took your own ${SCHOOL_TERMS[row.name]} out.`, undo });
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
        <SchoolSlip
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

function SchoolSlip({ material, row, onClose }: { material: Material; row: Row; onClose: () => void }) {
  const { notify } = useShell();
  const set = useSetProgramme();
  const [celsius, setCelsius] = useState(row.now ? bareTemp(row.now.temp_c) : "");
  const [duration, setDuration] = useState(row.now ? String(row.now.duration_h) : "");
  const { refused, of } = refusal(set.error);
  const name = SCHOOL_TERMS[row.name];
  return (
    <Slip
      title={`${name}, for ${material.name}`}
      onClose={onClose}
      onSubmit={() => {
        set.mutate(
          {
            id: material.id,
            name: row.name,
            body: { temp_c: typedTemp(celsius), duration_h: duration },
          },
          {
            onSuccess: ({ undo }) => {
              onClose();
              notify({ text: `Saved ${name} for ${material.name}.`, undo });
            },
          },
        );
      }}
    >
      <Field
        label="Air at the spool"
        unit={tempUnit()}
        inputMode="decimal"
        autoFocus
        value={celsius}
        error={of("temp_c")}
        onText={setCelsius}
      />
      <Field
        label="Heat for"
        unit="h"
        inputMode="decimal"
        value={duration}
        error={of("duration_h")}
        onText={setDuration}
      />
      {refused && !of("temp_c") && !of("duration_h") && <Alert>{refused.message}</Alert>}
      <Button type="submit" className={`${primary} self-start`} disabled={set.isPending}>
        Save
      </Button>
    </Slip>
  );
}

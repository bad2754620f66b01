import { useState } from "react";
import type { Trial } from "../../api/client";
import { Button } from "../../components/Button";
import { Field } from "../../components/Field";
import { useShell } from "../../components/shell";
import { link, panel } from "../../components/classes";
import { fixed, hours, percent, scaleDecimals } from "../../domain/numbers";
import { typedMass, typedSize } from "../../domain/quantities";
import { numbersIn } from "../../domain/typed";
import { massUnit, sizeUnit, toMass, toSize } from "../../domain/units";
import { useCorrectReading, useRemoveReading } from "./acts";

type Sample = Trial["samples"][number];
type Reading = Sample["readings"][number];

/** The lot: what went in, what came out, and what each then held. A reading can be put right. */
export function LotTable({ trial }: { trial: Trial }) {
  const [editing, setEditing] = useState<Reading | null>(null);
  const places = scaleDecimals(trial.resolution_g ?? 1);
  const write = (grams: number) => fixed(toMass(grams), places);
  const heads = trial.kind === "sponge" ? OF_SPONGES : trial.kind === "swelling" ? OF_PIECES : OF_COILS;
  return (
    <section className={panel}>
      <h2 className="mb-1">{heads.title}</h2>
      <table className="w-full text-sm">
        <thead>
          <tr className="text-right text-muted">
            <th className="text-left font-normal">{heads.sample}</th>
            <th className="font-normal">in, {massUnit()}</th>
            <th className="font-normal">out, {massUnit()}</th>
            <th className="font-normal">{heads.found}</th>
            <th className="font-normal">at</th>
          </tr>
        </thead>
        <tbody>
          {trial.samples.flatMap((sample) => {
            const readings: (Reading | null)[] = sample.readings.length > 0 ? sample.readings : [null];
            return readings.map((reading, n) => (
              <tr
                key={`${sample.id} ${reading?.id ?? ""}`}
                className={`border-t border-line text-right ${sample.id === trial.next ? "bg-ground" : ""}`}
              >
                <td className="py-1 text-left font-bold">{n === 0 ? sample.name : ""}</td>
                <td className="py-1 num">{n === 0 ? write(sample.start_g) : ""}</td>
                <td className="py-1 num">
                  {reading && (
                    <button
                      type="button"
                      className={`${link} min-h-6 min-w-6 ${reading.doubtful ? "font-bold text-heat" : ""}`}
                      aria-label={`correct ${sample.name}: ${write(reading.gross_g)}`}
                      onClick={() => {
                        setEditing(reading);
                      }}
                    >
                      {write(reading.gross_g)}
                    </button>
                  )}
                </td>
                <td className="py-1 num">{holdsWords(sample, reading, write)}</td>
                <td className="py-1 num whitespace-nowrap text-muted">
                  {reading
                    ? hours(reading.hours)
                    : sample.planned_h === null
                      ? ""
                      : `due ${hours(sample.planned_h)}`}
                </td>
              </tr>
            ));
          })}
        </tbody>
      </table>
      {editing && (
        <Correction
          key={editing.id}
          reading={editing}
          shown={write(editing.gross_g)}
          onDone={() => {
            setEditing(null);
          }}
        />
      )}
    </section>
  );
}

const OF_COILS = { title: "The lot", sample: "coil", found: "holds, %" };
const OF_SPONGES = { title: "The sponges", sample: "dryer", found: "dry" };
const OF_PIECES = { title: "The pieces", sample: "piece", found: "longer, %" };

function holdsWords(sample: Sample, reading: Reading | null, write: (grams: number) => string): string {
  if (sample.dry_g !== null) return write(sample.dry_g);
  if (sample.baked) return "baked";
  if (reading?.strain_pct != null) return fixed(reading.strain_pct, 2);
  const holds = reading?.holds_pct ?? null;
  return holds === null ? "" : percent(holds);
}

function Correction({ reading, shown, onDone }: { reading: Reading; shown: string; onDone: () => void }) {
  const [text, setText] = useState(shown);
  const [lengths, setLengths] = useState(() =>
    reading.after_mm.map((one) => String(Number(toSize(one).toFixed(4)))).join(" "),
  );
  const correct = useCorrectReading();
  const remove = useRemoveReading();
  const { notify } = useShell();
  const isPiece = reading.after_mm.length > 0;
  const after = (told: string) => ({
    onSuccess: ({ undo }: { undo: number | null }) => {
      notify({ text: told, undo });
      onDone();
    },
  });
  return (
    <form
      noValidate
      className="mt-3 flex flex-col gap-2 border-t-2 border-ink pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        correct.mutate(
          {
            id: reading.id,
            gross_g: typedMass(text),
            ...(isPiece ? { after_mm: numbersIn(lengths).map(typedSize) } : {}),
          },
          after("Corrected the reading."),
        );
      }}
    >
      <Field
        label="It really was"
        unit={massUnit()}
        inputMode="decimal"
        value={text}
        error={correct.error?.message}
        autoFocus
        onText={setText}
      />
      {isPiece && (
        <Field
          label="Its length really was"
          unit={sizeUnit()}
          inputMode="decimal"
          value={lengths}
          onText={setLengths}
        />
      )}
      <div className="flex items-center gap-4">
        <Button kind="primary" type="submit" disabled={correct.isPending}>
          Save
        </Button>
        <Button
          kind="link"
          onClick={() => {
            remove.mutate(reading.id, after("Removed the reading."));
          }}
        >
          remove it
        </Button>
        <Button kind="link" onClick={onDone}>
          leave it
        </Button>
      </div>
    </form>
  );
}

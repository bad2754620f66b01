import { useState } from "react";
import type { Trial } from "../../api/client";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { link, panel } from "../../components/classes";
import { percent } from "../../domain/numbers";
import { useRatePrint, useRemoveRating } from "./acts";
import { ratingWords } from "./words";

type Rung = Trial["rungs"][number];

/** Rates print after print: which letter is next, and whether the water showed. */
export function RatePrints({ trial }: { trial: Trial }) {
  const rate = useRatePrint();
  const { notify } = useShell();
  const [key, setKey] = useState(() => crypto.randomUUID());
  const rung = trial.rungs.find((one) => one.id === trial.next_rung);
  if (!rung) return <p className={panel}>This ladder is ended: the table shows how wet each letter was.</p>;
  const told = (showed: boolean) => {
    rate.mutate(
      { id: rung.id, body: { showed, client_key: key } },
      {
        onSuccess: ({ undo }) => {
          notify({ text: `${rung.letter}: ${ratingWords(showed)}.`, undo });
          setKey(crypto.randomUUID());
        },
      },
    );
  };
  return (
    <section className={`${panel} flex flex-col gap-3`}>
      <h2>
        Print from <span className="text-3xl font-bold">{rung.letter}</span>
      </h2>
      <p className="text-sm">Does the water show: strings, pits, crackle, a rough wall?</p>
      <div className="flex flex-wrap gap-3">
        {[true, false].map((showed) => (
          <Button
            key={String(showed)}
            kind="primary"
            disabled={rate.isPending}
            onClick={() => {
              told(showed);
            }}
          >
            {showed ? "It shows" : "It is clean"}
          </Button>
        ))}
      </div>
      {rate.error && (
        <p role="alert" className="font-bold text-heat">
          {rate.error.message}
        </p>
      )}
    </section>
  );
}

/** The rungs with their prints: by letters while they are rated, by moisture once that is over. */
export function Rungs({ trial }: { trial: Trial }) {
  const wetness = (rung: Rung) => rung.moisture_pct ?? 0;
  const rungs = [...trial.rungs].sort((a, b) => wetness(a) - wetness(b));
  return (
    <section className={panel}>
      <h2 className="mb-1">The rungs</h2>
      <table className="w-full text-sm">
        <thead>
          <tr className="text-left text-muted">
            <th className="font-normal">letter</th>
            <th className="text-right font-normal">moisture, %</th>
            <th className="pl-6 font-normal">prints</th>
          </tr>
        </thead>
        <tbody>
          {rungs.map((rung) => (
            <tr key={rung.id} className="border-t border-line">
              <td className="py-1 font-bold">{rung.letter}</td>
              <td className="py-1 text-right num">
                {rung.moisture_pct === null ? "kept back" : percent(rung.moisture_pct)}
              </td>
              <td className="py-1 pl-6">
                <Prints rung={rung} open={trial.closed_at === null} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {trial.closed_at === null && (
        <p className="mt-2 text-sm text-muted">
          You will see how wet each letter is once the trial is ended.
        </p>
      )}
    </section>
  );
}

function Prints({ rung, open }: { rung: Rung; open: boolean }) {
  const remove = useRemoveRating();
  const { notify } = useShell();
  if (rung.prints.length === 0) return <span className="text-muted">none yet</span>;
  if (!open) {
    const showed = rung.prints.filter((print) => print.showed).length;
    return <span>{`showed in ${showed} of ${rung.prints.length}`}</span>;
  }
  return (
    <span className="flex flex-wrap gap-x-3">
      {rung.prints.map((print, n) => (
        <button
          key={print.id}
          type="button"
          className={`${link} min-h-6 min-w-6`}
          aria-label={`take out print ${n + 1} of ${rung.letter}: ${ratingWords(print.showed)}`}
          onClick={() => {
            remove.mutate(print.id, {
              onSuccess: ({ undo }) => {
                notify({ text: "Took the rating out.", undo });
              },
            });
          }}
        >
          {ratingWords(print.showed)}
        </button>
      ))}
    </span>
  );
}

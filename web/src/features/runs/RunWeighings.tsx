import { useState } from "react";
import { Link } from "react-router";
import type { RunSheet } from "../../api/client";
import { Button } from "../../components/Button";
import { RemoveButton } from "../../components/RemoveButton";
import { scaleDecimals } from "../../domain/numbers";
import { mass } from "../../domain/quantities";
import { when } from "../../domain/times";
import { useRemoveWeighing } from "../weighing/acts";
import { MendWeighing, type Weighed } from "../weighing/MendWeighing";

/** The weighings of a run; each can be put right or removed, also long after. */
export function RunWeighings({ sheet, now }: { sheet: RunSheet; now: Date }) {
  const [mended, setMended] = useState<Weighed>();
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
        <MendWeighing
          seen={mended}
          onClose={() => {
            setMended(undefined);
          }}
        />
      )}
    </section>
  );
}

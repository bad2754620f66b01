import { useState } from "react";
import { Link } from "react-router";
import type { CaseFacts } from "../../api/client";
import { useChangeCase } from "./acts";
import { when } from "../../domain/times";
import { Button } from "../../components/Button";
import { link } from "../../components/classes";
import { PrintSlip } from "./PrintSlip";
import { Alert } from "../../components/Alert";

/** Once the spool was dried: the print after it, of the same file, then whether the fault went. */
export function AfterDrying({ page, onPrinted }: { page: CaseFacts; onPrinted: () => void }) {
  const change = useChangeCase();
  const [noting, setNoting] = useState(false);
  if (page.after || !page.dried) return null;
  const file = page.before?.file?.name;
  return (
    <section className="border-l-4 border-ink bg-paper px-3 py-2">
      <p>
        Dried since, until {when(new Date(page.dried.ended_at), new Date())} (
        <Link className={link} to={`/runs/${page.dried.id}`}>
          the run
        </Link>
        ). Print {file ?? "the same file"} again, with nothing else changed.
      </p>
      <Button
        kind="quiet"
        className="mt-2"
        onClick={() => {
          setNoting(true);
        }}
      >
        It is printed
      </Button>
      {change.error && <Alert>{change.error.message}</Alert>}
      {noting && (
        <PrintSlip
          spool={page.case.spool}
          {...(page.before ? { like: page.before } : {})}
          onKept={(made) => {
            // By its promise: this part leaves the screen once the print is noted, and its callbacks with it.
            change
              .mutateAsync({ id: page.case.id, body: { after: made.id } })
              .then(onPrinted, () => undefined);
          }}
          onClose={() => {
            setNoting(false);
          }}
        />
      )}
    </section>
  );
}

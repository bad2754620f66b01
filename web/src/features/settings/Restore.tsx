import { useState } from "react";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { FilePick } from "../../components/FilePick";
import { useSending } from "../../components/useSending";
import { standingLink } from "../../components/classes";
import type { components } from "../../api/schema";
import { fixed } from "../../domain/numbers";
import { day } from "../../domain/times";
import { useRestore } from "./acts";

const MEGA = 1e6;

/** The backups there are, each to take along or to put back; and one from a file. */
export function Restore({ backups }: { backups: components["schemas"]["Backup"][] }) {
  const restore = useRestore();
  const [asked, setAsked] = useState<string | null>(null);
  const [byHand, setByHand] = useState(false);
  const sending = useSending();
  const done = {
    onSuccess: ({ starts_again }: { starts_again: boolean }) => {
      if (starts_again) window.location.assign("/");
      else setByHand(true);
    },
    onSettled: () => {
      sending.end();
      setAsked(null);
    },
  };
  if (restore.isPending && sending.share === null)
    return <p role="status">Restoring, and restarting Darre …</p>;
  return (
    <>
      <ul className="max-h-52 overflow-auto text-sm">
        {backups.map(({ name, made_at, size_bytes }) => (
          <li key={name} className="flex flex-wrap items-center gap-x-3 border-t border-line py-1">
            <a className={`${standingLink} grow`} href={`/api/backups/${name}`} download={name}>
              {day(new Date(made_at))}
            </a>
            <span className="num text-muted">{fixed(size_bytes / MEGA, 1)} MB</span>
            <Button
              kind="link"
              aria-label={`restore that of ${day(new Date(made_at))}`}
              onClick={() => {
                setAsked(name);
              }}
            >
              restore
            </Button>
            {asked === name && (
              <p role="alert" className="w-full">
                Replace all records with those of {day(new Date(made_at))}? The present ones are kept in a
                file beside them.{" "}
                <Button
                  kind="link"
                  className="font-bold"
                  onClick={() => {
                    restore.mutate({ name }, done);
                  }}
                >
                  yes, restore it
                </Button>{" "}
                <Button
                  kind="link"
                  onClick={() => {
                    setAsked(null);
                  }}
                >
                  no
                </Button>
              </p>
            )}
          </li>
        ))}
      </ul>
      <FilePick
        label="Restore from a file"
        accept=".zip,application/zip"
        share={sending.share}
        error={restore.error?.message}
        onFile={(file) => {
          restore.mutate(sending.begin(file), done);
        }}
        onStop={sending.stop}
      />
      {byHand && <Alert>The backup is ready. Stop Darre and start it again to put it in place.</Alert>}
    </>
  );
}

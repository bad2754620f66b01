import { useRef, useState } from "react";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { FilePick } from "../../components/FilePick";
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
  const [share, setShare] = useState<number | null>(null);
  const stop = useRef<AbortController>(null);
  const done = {
    onSuccess: ({ starts_again }: { starts_again: boolean }) => {
      if (starts_again) window.location.assign("/");
      else setByHand(true);
    },
    onSettled: () => {
      setShare(null);
      setAsked(null);
    },
  };
  if (restore.isPending && share === null) return <p role="status">Restoring, and restarting Darre …</p>;
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
        share={share}
        error={restore.error?.message}
        onFile={(file) => {
          stop.current = new AbortController();
          setShare(0);
          restore.mutate({ file, onProgress: setShare, signal: stop.current.signal }, done);
        }}
        onStop={() => {
          stop.current?.abort();
        }}
      />
      {byHand && <Alert>The backup is ready. Stop Darre and start it again to put it in place.</Alert>}
    </>
  );
}

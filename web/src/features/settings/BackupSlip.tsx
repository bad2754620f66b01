import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Slip } from "../../components/Slip";
import { Button } from "../../components/Button";
import { standingLink } from "../../components/classes";
import { fixed } from "../../domain/numbers";
import { day } from "../../domain/times";
import { FilePick } from "../../components/FilePick";
import { useShell } from "../../components/shell";
import { useBringIn, useMakeBackup } from "./acts";
import { backups as backupsQuery } from "./queries";

const MEGA = 1e6;

/** Backups: when the last was made, one more now, and each as a file to take along. */
export function BackupSlip({ onClose }: { onClose: () => void }) {
  const { data, error } = useQuery(backupsQuery);
  const make = useMakeBackup();
  const bring = useBringIn();
  const { notify } = useShell();
  const [share, setShare] = useState<number | null>(null);
  const stop = useRef<AbortController>(null);
  return (
    <Slip
      title="Backups and your data"
      leave="Close"
      problem={error?.message ?? make.error?.message}
      onClose={onClose}
      onSubmit={() => {
        make.mutate();
      }}
    >
      <p className="text-sm">
        All records and photos in one file. Darre makes one a day by itself, and keeps the last of seven days,
        five weeks and twelve months. Copy one to another disk now and then.
      </p>
      <Button kind="primary" type="submit" disabled={make.isPending} className="self-start">
        {make.isPending ? "Backing up …" : "Back up now"}
      </Button>
      {data?.length === 0 && <p className="text-sm text-muted">There is none yet.</p>}
      <ul className="max-h-64 overflow-auto text-sm">
        {data?.map((backup) => (
          <li key={backup.name} className="flex justify-between gap-3 border-t border-line py-1">
            <a className={standingLink} href={`/api/backups/${backup.name}`} download={backup.name}>
              {day(new Date(backup.made_at))}
            </a>
            <span className="num text-muted">{fixed(backup.size_bytes / MEGA, 1)} MB</span>
          </li>
        ))}
      </ul>
      <h3 className="font-bold">As open tables</h3>
      <p className="text-sm">
        All records as CSV files, each column described with its unit, and the photos, in one archive. Any
        spreadsheet or program reads them, and an empty workshop can import them.
      </p>
      <div className="flex flex-wrap items-center gap-4">
        <a className={standingLink} href="/api/data-package/" download>
          Download all records
        </a>
        <FilePick
          label="Import an archive"
          accept=".zip,application/zip"
          share={share}
          error={bring.error?.message}
          onFile={(file) => {
            stop.current = new AbortController();
            setShare(0);
            bring.mutate(
              { file, onProgress: setShare, signal: stop.current.signal },
              {
                onSuccess: ({ records, photos, undo }) => {
                  onClose();
                  notify({ text: `Brought in ${records} records and ${photos} photos.`, undo });
                },
                onSettled: () => {
                  setShare(null);
                },
              },
            );
          }}
          onStop={() => {
            stop.current?.abort();
          }}
        />
      </div>
      <h3 className="font-bold">Restoring a backup</h3>
      <p className="text-sm text-muted">
        Stop Darre, then run <code>make restore FILE=that-file</code>. Your present records are kept beside
        it.
      </p>
    </Slip>
  );
}

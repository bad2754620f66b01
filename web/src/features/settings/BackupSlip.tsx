import { useQuery } from "@tanstack/react-query";
import { Slip } from "../../components/Slip";
import { Button } from "../../components/Button";
import { standingLink } from "../../components/classes";
import { fixed } from "../../domain/numbers";
import { day } from "../../domain/times";
import { useMakeBackup } from "./acts";
import { backups as backupsQuery } from "./queries";

const MEGA = 1e6;

/** Backups: when the last was made, one more now, and each as a file to take along. */
export function BackupSlip({ onClose }: { onClose: () => void }) {
  const { data, error } = useQuery(backupsQuery);
  const make = useMakeBackup();
  return (
    <Slip
      title="Backups"
      problem={error?.message ?? make.error?.message}
      onClose={onClose}
      onSubmit={() => {
        make.mutate();
      }}
    >
      <p className="text-sm">
        All records and photos in one file. Darre makes one a day by itself, and keeps the last of seven days,
        five weeks and twelve months. Take one along to another disk now and then.
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
      <p className="text-sm text-muted">
        To put one back: stop Darre, then <code>make restore FILE=that-file</code>. What is there then is
        kept.
      </p>
    </Slip>
  );
}

import { useQuery } from "@tanstack/react-query";
import { Slip } from "../../components/Slip";
import { Button } from "../../components/Button";
import { standingLink } from "../../components/classes";
import { FilePick } from "../../components/FilePick";
import { useSending } from "../../components/useSending";
import { useShell } from "../../components/shell";
import { useBringIn, useMakeBackup } from "./acts";
import { Restore } from "./Restore";
import { backups as backupsQuery } from "./queries";

/** Backups: when the last was made, one more now, and each as a file to take along. */
export function BackupSlip({ onClose }: { onClose: () => void }) {
  const { data, error } = useQuery(backupsQuery);
  const make = useMakeBackup();
  const bring = useBringIn();
  const { notify } = useShell();
  const sending = useSending();
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
      {data && <Restore backups={data} />}
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
          share={sending.share}
          error={bring.error?.message}
          onFile={(file) => {
            bring.mutate(sending.begin(file), {
              onSuccess: ({ records, photos, undo }) => {
                onClose();
                notify({ text: `Brought in ${records} records and ${photos} photos.`, undo });
              },
              onSettled: sending.end,
            });
          }}
          onStop={sending.stop}
        />
      </div>
    </Slip>
  );
}

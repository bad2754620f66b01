import type { PrintFile } from "../../api/client";
import { FilePick } from "../../components/FilePick";
import { useSending } from "../../components/useSending";
import { fixed, hours } from "../../domain/numbers";
import { temp } from "../../domain/quantities";
import { useReadFile } from "./acts";

interface FileProps {
  file: PrintFile | null;
  onFile: (file: PrintFile) => void;
}

/** The print's file: read on the server as it comes, up to 300 MB. */
export function FileToRead({ file, onFile }: FileProps) {
  const read = useReadFile();
  const sending = useSending();
  return (
    <div className="bg-paper p-3">
      <FilePick
        label={file ? "Another G-code file" : "G-code file"}
        accept=".gcode,.gco,.g,.nc,text/plain"
        share={sending.share}
        error={read.error?.message}
        onStop={sending.stop}
        onFile={(chosen) => {
          read.mutate(sending.begin(chosen), {
            onSuccess: (found) => {
              onFile(found.file);
            },
            onSettled: sending.end,
          });
        }}
      />
      {file && <FileLine file={file} />}
    </div>
  );
}

function FileLine({ file }: { file: PrintFile }) {
  const { summary } = file;
  const told = [
    `${fixed(summary.extruded_mm / 1000, 1)} m of filament`,
    summary.nozzle_c === null ? null : temp(summary.nozzle_c),
    summary.layer_mm === null ? null : `layer ${fixed(summary.layer_mm, 2)} mm`,
    summary.retraction_mm === null ? null : `retracts ${fixed(summary.retraction_mm, 1)} mm`,
    `at least ${hours(summary.least_h)}`,
  ];
  return (
    <p className="mt-2 text-sm">
      <strong>{file.name}</strong>: {told.filter((part) => part !== null).join(" · ")}
    </p>
  );
}

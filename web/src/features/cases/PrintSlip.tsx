import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Print, type PrintFile } from "../../api/client";
import { useAddPrint, useReadFile } from "./acts";
import { lanes as lanesQuery } from "../rack/queries";
import { fixed, hours } from "../../domain/numbers";
import { temp } from "../../domain/quantities";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { SpoolPicker } from "../spools/SpoolPicker";
import { FilePick } from "../../components/FilePick";
import { Slip } from "../../components/Slip";
import { useSending } from "../../components/useSending";
import { toLocalField } from "../../domain/times";
import { MomentField, NumberField, TextField } from "../../forms/fields";
import { maybeQuantity, maybeWords, moment } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

interface Props {
  spool: number | undefined;
  /** The print before: its file is the one that is wanted again. */
  like?: Print;
  onKept?: (made: Print) => void;
  onClose: () => void;
}

const SHAPE = z.object({
  name: maybeWords,
  mass_g: maybeQuantity("mass", "the filament it took", 85),
  at: moment,
  compensated: maybeWords,
});

/** A print: off which spool, when, and its file, which tells how much strand it took. */
export function PrintSlip({ spool, like, onKept, onClose }: Props) {
  const add = useAddPrint();
  const { notify } = useShell();
  const { data: lanes = [] } = useQuery(lanesQuery);
  const [picked, setPicked] = useState<number | null>(spool ?? null);
  const lane = lanes.find((lane) => lane.spool.id === picked) ?? lanes[0];
  const [file, setFile] = useState<PrintFile | null>(like?.file ?? null);
  const form = useActForm(SHAPE, {
    ...{ name: "", mass_g: "", compensated: "" },
    at: toLocalField(new Date()),
  });
  const { control } = form;
  const submit = form.submit(async (values) => {
    if (!lane) return;
    const { print: made, undo } = await add.mutateAsync({
      ...values,
      spool: lane.spool.id,
      name: values.name || (file?.name ?? ""),
      file: file?.id ?? null,
      note: "",
    });
    onClose();
    onKept?.(made);
    notify({ text: `Noted ${made.name} off ${made.spool_name}.`, undo });
  });

  return (
    <Slip
      title={like ? "The print after drying" : "Note a print"}
      problem={form.problem}
      onClose={onClose}
      onSubmit={submit}
    >
      <SpoolPicker label="Off which spool" lanes={lanes} lane={lane} onPick={setPicked} />
      <FileToRead file={file} onFile={setFile} />
      <TextField
        control={control}
        name="name"
        label="What it is"
        maxLength={120}
        hint={file ? `empty: ${file.name}` : undefined}
      />
      <NumberField
        control={control}
        name="mass_g"
        label="Filament it took"
        measure="mass"
        hint={file ? "empty: worked out from the file’s extruded length" : "empty: not known"}
      />
      <MomentField control={control} name="at" label="Printed at" />
      <TextField
        control={control}
        name="compensated"
        label="Compensated"
        maxLength={200}
        hint="what you did about the fault instead of drying: more retraction, hot air over the strings"
      />
      <Button kind="primary" type="submit" className="self-start" disabled={form.busy || !lane}>
        Save
      </Button>
    </Slip>
  );
}

interface FileProps {
  file: PrintFile | null;
  onFile: (file: PrintFile) => void;
}

/** The print's file: read on the server as it comes, up to 300 MB. */
function FileToRead({ file, onFile }: FileProps) {
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

import { Button } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Print, type PrintFile } from "../../api/client";
import { useAddPrint, useReadFile } from "./acts";
import { lanes as lanesQuery } from "../rack/queries";
import { fixed, hours } from "../../domain/numbers";
import { temp, typedMass } from "../../domain/quantities";
import { fromLocalField, toLocalField } from "../../domain/times";
import { massUnit } from "../../domain/units";
import { refusal } from "../../components/refusal";
import { useShell } from "../../components/shell";
import { SpoolPicker } from "../spools/SpoolPicker";
import { Field } from "../../components/Field";
import { FilePick } from "../../components/FilePick";
import { Slip } from "../../components/Slip";
import { primary } from "../../components/classes";
import { useSending } from "./useSending";
import { Alert } from "../../components/Alert";

interface Props {
  spool: number | undefined;
  /** The print before: its file is the one that is wanted again. */
  like?: Print;
  onKept?: (made: Print) => void;
  onClose: () => void;
}

/** A print: off which spool, when, and its file, which tells how much strand it took. */
export function PrintSlip({ spool, like, onKept, onClose }: Props) {
  const add = useAddPrint();
  const { notify } = useShell();
  const { data: lanes = [] } = useQuery(lanesQuery);
  const [picked, setPicked] = useState<number | null>(spool ?? null);
  const lane = lanes.find((it) => it.spool.id === picked) ?? lanes[0];
  const [file, setFile] = useState<PrintFile | null>(like?.file ?? null);
  const [name, setName] = useState("");
  const [grams, setGrams] = useState("");
  const [at, setAt] = useState(() => toLocalField(new Date()));
  const [compensated, setCompensated] = useState("");
  const when = fromLocalField(at);
  const { refused, of } = refusal(add.error);
  function keep() {
    if (!lane || when === null) return;
    add.mutate(
      {
        spool: lane.spool.id,
        name: name.trim() || (file?.name ?? ""),
        at: when,
        file: file?.id ?? null,
        mass_g: grams.trim() === "" ? null : typedMass(grams),
        compensated,
        note: "",
      },
      {
        onSuccess: ({ print: made, undo }) => {
          onClose();
          onKept?.(made);
          notify({ text: `Noted ${made.name} off ${made.spool_name}.`, undo });
        },
      },
    );
  }

  return (
    <Slip title={like ? "The print after drying" : "Note a print"} onClose={onClose} onSubmit={keep}>
      <SpoolPicker label="Off which spool" lanes={lanes} lane={lane} onPick={setPicked} />
      <FileToRead file={file} onFile={setFile} />
      <Field
        label="What it is"
        value={name}
        maxLength={120}
        hint={file ? `left empty: ${file.name}` : undefined}
        error={of("name")}
        onText={setName}
      />
      <Field
        label="Filament it took"
        unit={massUnit()}
        inputMode="decimal"
        value={grams}
        hint={file ? "left empty: by the file’s extruded length" : "left empty: not known"}
        error={of("mass_g")}
        onText={setGrams}
      />
      <Field
        label="Printed at, by this device’s clock"
        type="datetime-local"
        value={at}
        error={when === null ? "Give a date and a time." : of("at")}
        onText={setAt}
      />
      <Field
        label="Compensated"
        value={compensated}
        maxLength={200}
        hint="what was done against the fault in place of drying: more retraction, hot air over the strings"
        onText={setCompensated}
      />
      {refused && !["name", "mass_g", "at"].includes(refused.field ?? "") && <Alert>{refused.message}</Alert>}
      <Button type="submit" className={`${primary} self-start`} disabled={add.isPending || !lane}>
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
      <strong>{file.name}</strong>: {told.filter((it) => it !== null).join(" · ")}
    </p>
  );
}

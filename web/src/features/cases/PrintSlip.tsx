import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Print, type PrintFile } from "../../api/client";
import { useAddPrint } from "./acts";
import { FileToRead } from "./FileToRead";
import { lanes as lanesQuery } from "../rack/queries";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { SpoolPicker } from "../spools/SpoolPicker";
import { Slip } from "../../components/Slip";
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

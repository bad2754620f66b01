import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useOpenCase } from "./acts";
import { prints as printsQuery } from "./queries";
import { lanes as lanesQuery } from "../rack/queries";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { SpoolPicker } from "../spools/SpoolPicker";
import { Slip } from "../../components/Slip";
import { PrintChoice } from "./PrintChoice";
import { JustNowField, TextField } from "../../forms/fields";
import { maybeMoment, maybeWords } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

interface Props {
  spool: number | undefined;
  print: number | undefined;
  onClose: () => void;
}

const SHAPE = z.object({
  title: maybeWords,
  printed_at: maybeMoment,
});

/** A bad print: off which spool, and when. The rest is looked at in the case. */
export function OpenCaseSlip({ spool, print: given, onClose }: Props) {
  const { notify } = useShell();
  const navigate = useNavigate();
  const open = useOpenCase();
  const { data: lanes = [] } = useQuery(lanesQuery);
  const [picked, setPicked] = useState<number | null>(spool ?? null);
  const lane = lanes.find((lane) => lane.spool.id === picked) ?? lanes[0];
  const { data: prints = [] } = useQuery({
    ...printsQuery(lane?.spool.id ?? 0),
    enabled: lane !== undefined,
  });
  const [print, setPrint] = useState<number | null>(given ?? null);
  const form = useActForm(SHAPE, { title: "", printed_at: "" });
  const { control } = form;
  const submit = form.submit(async ({ title, printed_at }) => {
    if (!lane) return;
    const when = printed_at === null ? {} : { printed_at };
    const { case: made, undo } = await open.mutateAsync({
      spool: lane.spool.id,
      title,
      before: print,
      ...when,
    });
    onClose();
    notify({ text: `Opened a case: ${made.title}.`, undo });
    void navigate(`/cases/${made.id}`);
  });

  return (
    <Slip title="A bad print" problem={form.problem} onClose={onClose} onSubmit={submit}>
      <SpoolPicker
        label="Off which spool"
        lanes={lanes}
        lane={lane}
        onPick={(id) => {
          setPicked(id);
          setPrint(null);
        }}
      />
      <TextField
        control={control}
        name="title"
        label="What is wrong, in a few words"
        maxLength={120}
        hint="such as: strings and rough walls on the funnel"
      />
      {/* There before the prints are: nothing moves under a finger when they come. */}
      <PrintChoice label="Which print" prints={prints} value={print} onChoose={setPrint} />
      {print === null && (
        <JustNowField control={control} name="printed_at" what="Printed" now="printed just now" />
      )}
      <Button kind="primary" type="submit" className="self-start" disabled={form.busy || !lane}>
        Look into it
      </Button>
    </Slip>
  );
}

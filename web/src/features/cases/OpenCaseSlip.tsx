import { Button } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useOpenCase } from "./acts";
import { prints as printsQuery } from "./queries";
import { lanes as lanesQuery } from "../rack/queries";
import { fromLocalField } from "../../domain/times";
import { refusal } from "../../components/refusal";
import { useShell } from "../../components/shell";
import { SpoolPicker } from "../spools/SpoolPicker";
import { Field } from "../../components/Field";
import { JustNow } from "../../components/JustNow";
import { Slip } from "../../components/Slip";
import { primary } from "../../components/classes";
import { PrintChoice } from "./PrintChoice";
import { Alert } from "../../components/Alert";

interface Props {
  spool: number | undefined;
  print: number | undefined;
  onClose: () => void;
}

/** A bad print: off which spool, and when. The rest is looked at in the case. */
export function OpenCaseSlip({ spool, print: given, onClose }: Props) {
  const { notify } = useShell();
  const navigate = useNavigate();
  const open = useOpenCase();
  const { data: lanes = [] } = useQuery(lanesQuery);
  const [picked, setPicked] = useState<number | null>(spool ?? null);
  const lane = lanes.find((it) => it.spool.id === picked) ?? lanes[0];
  const { data: prints = [] } = useQuery({
    ...printsQuery(lane?.spool.id ?? 0),
    enabled: lane !== undefined,
  });
  const [print, setPrint] = useState<number | null>(given ?? null);
  const [title, setTitle] = useState("");
  const [at, setAt] = useState<string | null>(null);
  const { refused, of } = refusal(open.error);

  return (
    <Slip
      title="A bad print"
      onClose={onClose}
      onSubmit={() => {
        if (!lane) return;
        const printed = at === null ? null : fromLocalField(at);
        open.mutate(
          {
            spool: lane.spool.id,
            title,
            before: print,
            ...(printed === null ? {} : { printed_at: printed }),
          },
          {
            onSuccess: ({ case: made, undo }) => {
              onClose();
              notify({ text: `Opened a case: ${made.title}.`, undo });
              void navigate(`/cases/${made.id}`);
            },
          },
        );
      }}
    >
      <SpoolPicker
        label="Off which spool"
        lanes={lanes}
        lane={lane}
        onPick={(id) => {
          setPicked(id);
          setPrint(null);
        }}
      />
      <Field
        label="What is wrong, in a few words"
        value={title}
        maxLength={120}
        hint="such as: strings and rough walls on the funnel"
        error={of("title")}
        onText={setTitle}
      />
      {prints.length > 0 && (
        <PrintChoice label="Which print" prints={prints} value={print} onChoose={setPrint} />
      )}
      {print === null && (
        <JustNow what="Printed" now="printed just now" at={at} error={of("at")} onAt={setAt} />
      )}
      {refused && !of("title") && !of("at") && <Alert>{refused.message}</Alert>}
      <Button type="submit" className={`${primary} self-start`} disabled={open.isPending || !lane}>
        Look into it
      </Button>
    </Slip>
  );
}

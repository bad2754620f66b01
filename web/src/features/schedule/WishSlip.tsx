import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Control, useWatch } from "react-hook-form";
import * as z from "zod";
import type { PrintFile, Schedule, Wish } from "../../api/client";
import { useShell } from "../../components/shell";
import { Button } from "../../components/Button";
import { Slip } from "../../components/Slip";
import { shownIn } from "../../domain/measures";
import { toLocalField } from "../../domain/times";
import { NumberField, PickField, TextField } from "../../forms/fields";
import { maybeMoment, maybeQuantity, maybeWords } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { SaveOrRemove } from "../../forms/SaveOrRemove";
import { lanes as lanesQuery } from "../rack/queries";
import { SpoolPicker } from "../spools/SpoolPicker";
import { useAddWish, useChangeWish, usePin, useRemoveWish } from "./acts";
import { PrintWanted } from "./PrintWanted";
import { printTakes } from "./queries";

const ONCE = 0;
const KEEP_CLEAN = -1;
const AGAIN = [
  { value: ONCE, name: "once" },
  { value: 1, name: "every day" },
  { value: 7, name: "every week" },
  { value: 14, name: "every two weeks" },
  { value: 28, name: "every four weeks" },
  { value: KEEP_CLEAN, name: "always: keep it clean" },
];
const WANTED = {
  again: z.number(),
  ready_by: maybeMoment,
  grams: maybeQuantity("mass", "how much", 380),
  note: maybeWords,
};

/** What is sent of how often it is wanted. */
const turns = (again: number, ready_by: string | null) => ({
  ready_by: again === KEEP_CLEAN ? null : ready_by,
  every_days: again > 0 ? again : null,
  keep_clean: again === KEEP_CLEAN,
});
const NEW = z.object(WANTED);
const CHANGED = z.object({ ...WANTED, pinned_dryer: z.number(), pinned_at: maybeMoment });
const WHEREVER = 0;

const local = (at: string | null | undefined): string => (at ? toLocalField(new Date(at)) : "");

interface Props {
  onClose: () => void;
  onDone: () => void;
}

/** A spool that is wanted dry: by when, and for what. */
export function NewWishSlip({ onClose, onDone }: Props) {
  const { notify } = useShell();
  const lanes = useQuery(lanesQuery).data ?? [];
  const [spool, setSpool] = useState<number>();
  const [missing, setMissing] = useState<string>();
  const add = useAddWish();
  const [file, setFile] = useState<PrintFile | null>(null);
  const form = useActForm(NEW, { again: ONCE, ready_by: "", grams: "", note: "" });
  const wanted = lanes.find((lane) => lane.spool.id === spool);
  const takes = useQuery({ ...printTakes(file?.id ?? 0), enabled: file !== null }).data?.find(
    (one) => one.spool === spool,
  );
  const submit = form.submit(async ({ again, ready_by, ...values }) => {
    if (!wanted) {
      setMissing("Needed: which spool.");
      return;
    }
    const { undo } = await add.mutateAsync({
      ...turns(again, ready_by),
      grams: values.grams ?? takes?.mass_g.value.toFixed(1) ?? null,
      note: values.note || (file?.name ?? ""),
      spool: wanted.spool.id,
    });
    notify({ text: `${wanted.spool.name} is on the list.`, undo });
    onDone();
  });
  return (
    <Slip
      title="Add a spool to the schedule"
      problem={missing ?? form.problem}
      onClose={onClose}
      onSubmit={submit}
    >
      <SpoolPicker
        label="Spool"
        lanes={lanes}
        lane={wanted}
        onPick={(id) => {
          setSpool(id);
          setMissing(undefined);
        }}
      />
      <PrintWanted file={file} onFile={setFile} takes={takes} />
      <WantedFields control={form.control} print={file?.name} />
      <Button kind="primary" type="submit" disabled={form.busy} className="self-start">
        Save
      </Button>
    </Slip>
  );
}

/** Change when a spool is wanted, pin its run to a dryer and a time, or take it off the list. */
export function WishSlip({ wish, data, onClose, onDone }: Props & { wish: Wish; data: Schedule }) {
  const { notify } = useShell();
  const [change, pin, remove] = [useChangeWish(), usePin(), useRemoveWish()];
  const start = data.starts.find((one) => one.wish === wish.id);
  const before = { dryer: wish.pinned_dryer ?? WHEREVER, at: local(wish.pinned_at ?? start?.starts_at) };
  const form = useActForm(
    CHANGED,
    {
      again: wish.keep_clean ? KEEP_CLEAN : (wish.every_days ?? ONCE),
      ready_by: local(wish.ready_by),
      grams: shownIn("mass", wish.grams),
      note: wish.note,
      pinned_dryer: before.dryer,
      pinned_at: before.at,
    },
    (field) => ({ dryer: "pinned_dryer", at: "pinned_at" })[field],
  );
  const done = (text: string, undo: number | null) => {
    notify({ text, undo });
    onDone();
  };
  const submit = form.submit(async ({ pinned_dryer, pinned_at, again, ready_by, ...values }) => {
    const body = { ...values, ...turns(again, ready_by) };
    const { undo } = await change.mutateAsync({ id: wish.id, body });
    const pinned = pinned_dryer === WHEREVER ? null : pinned_dryer;
    if (pinned_dryer !== before.dryer || (pinned !== null && local(pinned_at) !== before.at))
      await pin.mutateAsync({ id: wish.id, body: { dryer: pinned, at: pinned === null ? null : pinned_at } });
    done(`Changed ${wish.spool_name}.`, undo);
  });
  return (
    <Slip title={`${wish.spool_name} is wanted`} problem={form.problem} onClose={onClose} onSubmit={submit}>
      <WantedFields control={form.control} />
      <div className="grid grid-cols-2 gap-3">
        <PickField
          control={form.control}
          name="pinned_dryer"
          label="Goes into"
          options={[
            { value: WHEREVER, name: "whichever is best" },
            ...data.dryers.map((dryer) => ({ value: dryer.id, name: dryer.name })),
          ]}
        />
        <TextField
          control={form.control}
          name="pinned_at"
          label="Starts at"
          type="datetime-local"
          hint="Counts where a dryer is chosen."
        />
      </div>
      <SaveOrRemove
        busy={form.busy}
        removal={{
          act: remove,
          id: wish.id,
          label: "no longer wanted",
          onRemoved: (undo) => {
            done(`${wish.spool_name} is off the list.`, undo);
          },
          onRefused: form.refuse,
        }}
      />
    </Slip>
  );
}

type Wanted = z.input<typeof NEW>;

/** The ways to want it, with the present one where a program chose another number of days. */
const optionsFor = (again: number) =>
  AGAIN.some(({ value }) => value === again)
    ? AGAIN
    : [...AGAIN, { value: again, name: `every ${again} days` }];

interface FieldsProps<In extends Wanted, Out> {
  control: Control<In, unknown, Out>;
  /** The name of the print’s file, which tells what is left empty. */
  print?: string | undefined;
}

function WantedFields<In extends Wanted, Out>({ control, print }: FieldsProps<In, Out>) {
  // The three fields are in every form that this is given.
  const of = control as unknown as Control<Wanted, unknown, z.output<typeof NEW>>;
  const again = useWatch({ control: of, name: "again" });
  return (
    <>
      <PickField control={of} name="again" label="Wanted" options={optionsFor(again)} />
      {again === KEEP_CLEAN ? (
        <p className="text-sm">It is dried in good time, so that it always prints clean.</p>
      ) : (
        <TextField
          control={of}
          name="ready_by"
          label={again === ONCE ? "Ready by" : "Ready by, the first time"}
          type="datetime-local"
          hint={again === ONCE ? "Empty: whenever there is room." : undefined}
        />
      )}
      <div className="grid grid-cols-2 gap-3">
        <NumberField
          control={of}
          name="grams"
          label="How much"
          measure="mass"
          hint={print === undefined ? "May be left out." : "Empty: as the file says."}
        />
        <TextField
          control={of}
          name="note"
          label="What for"
          maxLength={120}
          hint={print === undefined ? undefined : `Empty: ${print}`}
        />
      </div>
    </>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Control } from "react-hook-form";
import * as z from "zod";
import type { Schedule, Wish } from "../../api/client";
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

const WANTED = {
  ready_by: maybeMoment,
  grams: maybeQuantity("mass", "how much", 380),
  note: maybeWords,
};
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
  const form = useActForm(NEW, { ready_by: "", grams: "", note: "" });
  const wanted = lanes.find((lane) => lane.spool.id === spool);
  const submit = form.submit(async (values) => {
    if (!wanted) {
      setMissing("Needed: which spool.");
      return;
    }
    const { undo } = await add.mutateAsync({ ...values, spool: wanted.spool.id });
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
      <WantedFields control={form.control} />
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
  const submit = form.submit(async ({ pinned_dryer, pinned_at, ...values }) => {
    const { undo } = await change.mutateAsync({ id: wish.id, body: values });
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

function WantedFields<In extends Wanted, Out>({ control }: { control: Control<In, unknown, Out> }) {
  // The three fields are in every form that this is given.
  const of = control as unknown as Control<Wanted, unknown, z.output<typeof NEW>>;
  return (
    <>
      <TextField
        control={of}
        name="ready_by"
        label="Ready by"
        type="datetime-local"
        hint="Empty: whenever there is room."
      />
      <div className="grid grid-cols-2 gap-3">
        <NumberField control={of} name="grams" label="How much" measure="mass" hint="May be left out." />
        <TextField control={of} name="note" label="What for" maxLength={120} />
      </div>
    </>
  );
}

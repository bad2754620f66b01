import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import * as z from "zod";
import type { components } from "../../api/schema";
import { Button } from "../../components/Button";
import { link } from "../../components/classes";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { shownIn } from "../../domain/measures";
import { length, mass } from "../../domain/quantities";
import { NumberField, TextField, TickField } from "../../forms/fields";
import { maybeQuantity, maybeWords, words } from "../../forms/shape";
import { SaveOrRemove } from "../../forms/SaveOrRemove";
import { useActForm } from "../../forms/useActForm";
import { useChangeCoil, useCutCoil, useRemoveCoil } from "./acts";
import { coils as coilsQuery } from "./queries";

type Coil = components["schemas"]["Coil"];

interface Props {
  spool: { id: number; name: string };
}

/** The coils that were cut off a spool, each a thing of its own. */
export function Coils({ spool }: Props) {
  const { data: coils = [] } = useQuery(coilsQuery(spool.id));
  const [open, setOpen] = useState<Coil | "new" | null>(null);
  const close = () => {
    setOpen(null);
  };
  return (
    <section aria-label="Coils">
      <h2>Coils</h2>
      {coils.length > 0 && (
        <ul className="mb-1 text-sm">
          {coils.map((coil) => (
            <li key={coil.id} className="flex flex-wrap gap-x-3 border-b border-line py-1">
              <strong>{coil.name}</strong>
              <span className="grow text-muted">{coilWords(coil)}</span>
              {coil.run !== null && (
                <Link to={`/runs/${coil.run}`} className={link}>
                  its run
                </Link>
              )}
              <Button
                kind="link"
                className="text-muted"
                aria-label={`Change ${coil.name}`}
                onClick={() => {
                  setOpen(coil);
                }}
              >
                change
              </Button>
            </li>
          ))}
        </ul>
      )}
      <p className="flex gap-4 text-sm">
        <Button
          kind="link"
          onClick={() => {
            setOpen("new");
          }}
        >
          cut a coil
        </Button>
        {coils.length > 0 && (
          <Link to={`/labels?spools=${spool.id}`} className={link}>
            tags for them
          </Link>
        )}
      </p>
      {open === "new" && <CutSlip spool={spool} onClose={close} />}
      {open !== null && open !== "new" && <ChangeSlip coil={open} onClose={close} />}
    </section>
  );
}

function coilWords(coil: Coil): string {
  const words = [
    coil.length_m == null ? "" : length(coil.length_m),
    coil.soaked ? "soaked" : "",
    coil.last_g === null ? "not weighed yet" : `${mass(coil.last_g, 2)} last`,
    coil.run === null ? "" : "drying now",
    coil.used_up_at ? "used up" : "",
  ];
  return words.filter(Boolean).join(", ");
}

const CUT = z.object({
  name: maybeWords,
  length_m: maybeQuantity("length", "the coil’s length", 8),
  soaked: z.boolean(),
});

function CutSlip({ spool, onClose }: Props & { onClose: () => void }) {
  const { notify } = useShell();
  const cut = useCutCoil();
  const form = useActForm(CUT, { name: "", length_m: "", soaked: false });
  const { control } = form;
  const submit = form.submit(async (body) => {
    const { undo } = await cut.mutateAsync({ spool: spool.id, body });
    onClose();
    notify({ text: `Cut a coil off ${spool.name}. Weigh it with W.`, undo });
  });
  return (
    <Slip title={`Cut a coil off ${spool.name}`} problem={form.problem} onClose={onClose} onSubmit={submit}>
      <TextField
        control={control}
        name="name"
        label="What its tag says"
        maxLength={40}
        hint="Empty: coil 1, coil 2 and so on."
        autoFocus
      />
      <NumberField
        control={control}
        name="length_m"
        label="Its length, if you measured it"
        measure="length"
      />
      <TickField control={control} name="soaked" label="it lay in water" />
      <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
        Cut it
      </Button>
    </Slip>
  );
}

const CHANGE = z.object({
  name: words("what its tag says", "coil 1"),
  length_m: maybeQuantity("length", "the coil’s length", 8),
  soaked: z.boolean(),
  used_up: z.boolean(),
});

function ChangeSlip({ coil, onClose }: { coil: Coil; onClose: () => void }) {
  const { notify } = useShell();
  const change = useChangeCoil();
  const remove = useRemoveCoil();
  const form = useActForm(CHANGE, {
    name: coil.name,
    length_m: shownIn("length", coil.length_m),
    soaked: coil.soaked,
    used_up: Boolean(coil.used_up_at),
  });
  const { control } = form;
  const done = (text: string, undo: number | null) => {
    onClose();
    notify({ text, undo });
  };
  const submit = form.submit(async (body) => {
    const { undo } = await change.mutateAsync({ id: coil.id, body });
    done(`Changed ${body.name}.`, undo);
  });
  return (
    <Slip title={`Change ${coil.name}`} problem={form.problem} onClose={onClose} onSubmit={submit}>
      <TextField control={control} name="name" label="What its tag says" maxLength={40} autoFocus />
      <NumberField
        control={control}
        name="length_m"
        label="Its length, if you measured it"
        measure="length"
      />
      <TickField control={control} name="soaked" label="it lay in water" />
      <TickField control={control} name="used_up" label="it is used up" />
      <SaveOrRemove
        busy={form.busy}
        removal={{
          act: remove,
          id: coil.id,
          onRemoved: (undo) => {
            done(`Removed ${coil.name}.`, undo);
          },
          onRefused: form.refuse,
        }}
      />
    </Slip>
  );
}

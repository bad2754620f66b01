import { useQuery } from "@tanstack/react-query";
import * as z from "zod";
import { type SpoolFacts } from "../../api/client";
import { useChangeSpool } from "./acts";
import { emptySpools as emptySpoolsQuery } from "./queries";
import { shownIn } from "../../domain/measures";
import { useShell } from "../../components/shell";
import { Button } from "../../components/Button";
import { Slip } from "../../components/Slip";
import { NumberField, PickField, TextField } from "../../forms/fields";
import { maybeQuantity, maybeWords, quantity, words } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { MaterialField } from "./MaterialField";
import { TareFields } from "./TareFields";
import { type TareMethod } from "./words";

const SHAPE = z.object({
  name: words("a name", "Hinge stock"),
  material: z.string(),
  colour: maybeWords,
  maker: maybeWords,
  purpose: maybeWords,
  empty_spool: z.number(),
  tare_g: maybeQuantity("mass", "what the spool weighs without filament", 190),
  nominal_g: quantity("mass", "what the label says of the filament when new", 1000),
  tare_method: z.custom<TareMethod>(),
  strand_diameter_mm: quantity("plain", "the filament’s diameter", 1.75),
});

/** A spool's own data. */
export function SpoolForm({ page, onClose }: { page: SpoolFacts; onClose: () => void }) {
  const { spool } = page.traced.lane;
  const { notify } = useShell();
  const change = useChangeSpool();
  const { data: emptySpools = [] } = useQuery(emptySpoolsQuery);
  const { name, colour, maker, purpose, material, tare_method } = spool;
  const form = useActForm(SHAPE, {
    ...{ name, colour, maker, purpose, material, tare_method },
    empty_spool: page.empty_spool,
    tare_g: shownIn("mass", spool.tare_g),
    nominal_g: shownIn("mass", 1000),
    strand_diameter_mm: String(spool.strand_diameter_mm),
  });
  const { control } = form;
  const submit = form.submit(async (values) => {
    const { undo } = await change.mutateAsync({ id: spool.id, body: { ...values, form: spool.form } });
    onClose();
    notify({ text: `Changed ${values.name}.`, undo });
  });
  return (
    <Slip title={`Change ${spool.name}`} problem={form.problem} onClose={onClose} onSubmit={submit}>
      <TextField control={control} name="name" label="Name" maxLength={60} />
      <MaterialField control={control} />
      <div className="grid grid-cols-2 gap-3">
        <TextField control={control} name="colour" label="Colour" maxLength={40} />
        <TextField control={control} name="maker" label="Maker" maxLength={60} />
      </div>
      <TextField control={control} name="purpose" label="For" maxLength={120} />
      <PickField
        control={control}
        name="empty_spool"
        label="Empty spool"
        options={emptySpools.map((emptySpool) => ({ value: emptySpool.id, name: emptySpool.name }))}
      />
      <TareFields control={control} />
      <NumberField control={control} name="strand_diameter_mm" label="Filament diameter" unit="mm" />
      <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
        Save
      </Button>
    </Slip>
  );
}

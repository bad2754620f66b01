import { type Lane } from "../../api/client";
import { useSetSheet } from "../spools/acts";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { shownIn } from "../../domain/measures";
import { NumberField, TickField } from "../../forms/fields";
import { quantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

const SHAPE = z.object({
  temp_c: quantity("temp", "the temperature on the sheet", 70),
  duration_h: quantity("plain", "the hours on the sheet", 8),
  only_if_opened: z.boolean(),
});

/** What the data sheet of this very spool asks for. */
export function SheetDialog({ spool, onClose }: { spool: Lane["spool"]; onClose: () => void }) {
  const { notify } = useShell();
  const set = useSetSheet();
  const { sheet } = spool;
  const form = useActForm(SHAPE, {
    temp_c: sheet ? shownIn("temp", Number(sheet.temp_c)) : "",
    duration_h: sheet ? String(Number(sheet.duration_h)) : "",
    only_if_opened: sheet?.only_if_opened ?? false,
  });
  const { control } = form;
  async function keep(next: Parameters<typeof set.mutate>[0]["sheet"], text: string) {
    const { undo } = await set.mutateAsync({ spool: spool.id, sheet: next });
    onClose();
    notify({ text, undo });
  }
  const submit = form.submit((values) => keep(values, `Saved the maker’s sheet of ${spool.name}.`));

  return (
    <Slip title={`Maker’s sheet of ${spool.name}`} problem={form.problem} onClose={onClose} onSubmit={submit}>
      <NumberField control={control} name="temp_c" label="Dry at" measure="temp" />
      <NumberField control={control} name="duration_h" label="For" unit="h" />
      <TickField control={control} name="only_if_opened" label="only once the bag has been opened" />
      <div className="flex items-center gap-4">
        <Button kind="primary" type="submit" disabled={form.busy}>
          Save
        </Button>
        {sheet && (
          <Button
            kind="link"
            onClick={() => {
              keep(null, `Removed the maker’s sheet of ${spool.name}.`).catch(form.refuse);
            }}
          >
            remove it
          </Button>
        )}
      </div>
    </Slip>
  );
}

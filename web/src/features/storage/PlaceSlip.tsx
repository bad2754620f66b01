import { useWatch } from "react-hook-form";
import * as z from "zod";
import { type Place } from "../../api/client";
import { useAddPlace, useChangePlace, useRemovePlace } from "./acts";
import { shownIn } from "../../domain/measures";
import { useShell } from "../../components/shell";
import { Button } from "../../components/Button";
import { Slip } from "../../components/Slip";
import { NumberField, PickField, TextField } from "../../forms/fields";
import { optionsOf } from "../../forms/options";
import { maybeQuantity, words } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { PLACE_WORDS } from "./words";

const SHAPE = z.object({
  name: words("a name", "the blue box"),
  kind: z.custom<Place["kind"]>(),
  ingress_m3_day: maybeQuantity("plain", "what leaks in", 0.002),
  air_l: maybeQuantity("plain", "the air in it", 20),
  warm_c: maybeQuantity("step", "how much warmer than the room it is", 12),
});

/** A place where spools stand: a new one, or one that is there. */
export function PlaceSlip({ place, onClose }: { place?: Place; onClose: () => void }) {
  const { notify } = useShell();
  const add = useAddPlace();
  const change = useChangePlace();
  const remove = useRemovePlace();
  const form = useActForm(SHAPE, {
    name: place?.name ?? "",
    kind: place?.kind ?? "gasket_bin",
    ingress_m3_day: shownIn("plain", place?.ingress_m3_day),
    air_l: shownIn("plain", place?.air_l),
    warm_c: shownIn("step", place?.warm_c ?? 0),
  });
  const { control } = form;
  const kind = useWatch({ control, name: "kind" });
  const done = (text: string, undo: number | null) => {
    onClose();
    notify({ text, undo });
  };
  const submit = form.submit(async (values) => {
    const body = { ...values, warm_c: (values.kind === "warm_box" ? values.warm_c : null) ?? "0" };
    if (place) {
      const { undo } = await change.mutateAsync({ id: place.id, body });
      done(`Changed ${values.name}.`, undo);
    } else {
      const { undo } = await add.mutateAsync(body);
      done(`Added ${values.name}. Move spools there with M.`, undo);
    }
  });
  return (
    <Slip
      title={place ? `Change ${place.name}` : "Add a place"}
      problem={form.problem}
      onClose={onClose}
      onSubmit={submit}
    >
      <TextField control={control} name="name" label="Name" maxLength={60} autoFocus />
      <PickField control={control} name="kind" label="It is" options={optionsOf(PLACE_WORDS)} />
      {kind === "warm_box" ? (
        <NumberField control={control} name="warm_c" label="Warmer than the room by" measure="step" />
      ) : (
        <div className="grid grid-cols-2 gap-3">
          <NumberField
            control={control}
            name="ingress_m3_day"
            label="What leaks in"
            unit="m³ a day"
            hint="Empty: as usual for its kind."
          />
          <NumberField control={control} name="air_l" label="Air in it" unit="l" hint="Empty: usual." />
        </div>
      )}
      {kind === "vacuum_pot" && (
        <p className="border-l-4 border-heat pl-2 text-sm">
          Glass or acrylic under vacuum can implode: rated vessels only, and eye protection.
        </p>
      )}
      <div className="flex items-center gap-4">
        <Button kind="primary" type="submit" disabled={form.busy}>
          Save
        </Button>
        {place && (
          <Button
            kind="link"
            onClick={() => {
              remove.mutate(place.id, {
                onSuccess: ({ undo }) => {
                  done(`Removed ${place.name}.`, undo);
                },
                onError: form.refuse,
              });
            }}
          >
            remove it
          </Button>
        )}
      </div>
    </Slip>
  );
}

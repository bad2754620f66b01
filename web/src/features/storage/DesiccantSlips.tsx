import { type Holding, type Place } from "../../api/client";
import { useFillPlace, useWeighDesiccant } from "./acts";
import { mass } from "../../domain/quantities";
import { when } from "../../domain/times";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { DESICCANT_WORDS, INDICATOR_WORDS, POUCH_WORDS } from "./words";
import { useWatch } from "react-hook-form";
import { NumberField, PickField } from "../../forms/fields";
import { optionsOf } from "../../forms/options";
import { maybeQuantity, quantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

const FILL = z.object({
  kind: z.custom<keyof typeof DESICCANT_WORDS>(),
  dry_g: quantity("mass", "how much desiccant it is", 120),
  load_pct: maybeQuantity("plain", "the water in it", 3),
  indicator: z.custom<keyof typeof INDICATOR_WORDS>(),
  pouch: z.custom<keyof typeof POUCH_WORDS>(),
});

/** Desiccant that was put in, or taken out. */
export function FillSlip({ place, onClose }: { place: Place; onClose: () => void }) {
  const { notify } = useShell();
  const fill = useFillPlace();
  const form = useActForm(FILL, {
    ...{ kind: "silica_gel", dry_g: "", load_pct: "" },
    ...{ indicator: "none", pouch: "bare" },
  });
  const { control } = form;
  const [indicator, pouch] = useWatch({ control, name: ["indicator", "pouch"] });
  const done = (text: string, undo: number | null) => {
    onClose();
    notify({ text, undo });
  };
  const submit = form.submit(async (body) => {
    const { undo } = await fill.mutateAsync({ id: place.id, body });
    done(`Put ${DESICCANT_WORDS[body.kind]} into ${place.name}.`, undo);
  });
  return (
    <Slip title={`Desiccant in ${place.name}`} problem={form.problem} onClose={onClose} onSubmit={submit}>
      <PickField control={control} name="kind" label="Kind" options={optionsOf(DESICCANT_WORDS)} />
      <NumberField control={control} name="dry_g" label="How much, dry" measure="mass" autoFocus />
      <NumberField
        control={control}
        name="load_pct"
        label="Water in it"
        unit="% of it"
        hint="Empty: fresh out of the oven."
      />
      <div className="grid grid-cols-2 gap-3">
        <PickField
          control={control}
          name="indicator"
          label="It shows by"
          options={optionsOf(INDICATOR_WORDS)}
        />
        <PickField control={control} name="pouch" label="It lies in" options={optionsOf(POUCH_WORDS)} />
      </div>
      {indicator === "blue" && (
        <p className="border-l-4 border-heat pl-2 text-sm">
          Blue beads may contain cobalt salts: wear gloves, raise no dust, keep away from children and food.
        </p>
      )}
      <div className="flex items-center gap-4">
        <Button kind="primary" type="submit" disabled={form.busy}>
          It is in
        </Button>
        <Button
          kind="link"
          onClick={() => {
            fill.mutate(
              { id: place.id, body: { kind: "", dry_g: 0, indicator, pouch } },
              {
                onSuccess: ({ undo }) => {
                  done(`No desiccant in ${place.name} from now on.`, undo);
                },
                onError: form.refuse,
              },
            );
          }}
        >
          there is none in it now
        </Button>
      </div>
    </Slip>
  );
}

const PACK = z.object({ mass_g: quantity("mass", "what the desiccant weighs, pouch and all", 131.5) });

/** What the desiccant weighs: two weighings tell what gets in. */
export function PackSlip({ holding, onClose }: { holding: Holding; onClose: () => void }) {
  const { notify } = useShell();
  const weigh = useWeighDesiccant();
  const form = useActForm(PACK, { mass_g: "" });
  const fill = holding.desiccant?.fill;
  if (!fill) return null;
  const now = new Date();
  const submit = form.submit(async ({ mass_g }) => {
    const { undo } = await weigh.mutateAsync({ id: fill.id, body: { mass_g, plus_minus_g: "0.2" } });
    onClose();
    notify({ text: `Saved the desiccant’s mass in ${holding.place.name}.`, undo });
  });
  return (
    <Slip
      title={`Weigh the desiccant of ${holding.place.name}`}
      problem={form.problem}
      onClose={onClose}
      onSubmit={submit}
    >
      <NumberField
        control={form.control}
        name="mass_g"
        label="It weighs, pouch and all"
        measure="mass"
        large
        autoFocus
        hint="Always the same things on the scale; promptly after opening."
      />
      <ul className="text-sm">
        {fill.weighings.map((weighing) => (
          <li key={weighing.id} className="flex justify-between border-b border-line py-1">
            <span>{when(new Date(weighing.at), now)}</span>
            <span className="num">{mass(weighing.mass_g, 1)}</span>
          </li>
        ))}
      </ul>
      <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
        Save
      </Button>
    </Slip>
  );
}

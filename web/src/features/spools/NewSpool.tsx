import { useQuery } from "@tanstack/react-query";
import { useWatch } from "react-hook-form";
import * as z from "zod";
import { useAddEmptySpool, useAddSpool } from "./acts";
import { type EmptySpool, type Place, type SpoolFacts } from "../../api/client";
import { emptySpools as emptySpoolsQuery } from "./queries";
import { places as placesQuery } from "../storage/queries";
import { useShell } from "../../components/shell";
import { Button } from "../../components/Button";
import { Slip } from "../../components/Slip";
import { JustNowField, NumberField, PickField, TextField } from "../../forms/fields";
import { optionsOf } from "../../forms/options";
import { maybeMoment, maybeQuantity, maybeWords, quantity, words } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { MaterialField } from "./MaterialField";
import { TareFields } from "./TareFields";
import { EMPTY_SPOOL_WORDS, type TareMethod } from "./words";
import { shownIn } from "../../domain/measures";

type Kind = keyof typeof EMPTY_SPOOL_WORDS;

const NEW = 0;
const SIZES = [
  ["outer_diameter_mm", "Flanges across"],
  ["width_mm", "Width inside"],
  ["hub_diameter_mm", "Hub across"],
] as const;

const SHAPE = z.object({
  name: words("a name", "Hinge stock"),
  material: z.string(),
  colour: maybeWords,
  maker: maybeWords,
  empty_spool: z.number(),
  kind: z.custom<Kind>(),
  outer_diameter_mm: maybeQuantity("size", "the diameter of the flanges", 200),
  width_mm: maybeQuantity("size", "the width between the flanges", 60),
  hub_diameter_mm: maybeQuantity("size", "the diameter of the hub", 90),
  tare_g: maybeQuantity("mass", "what the spool weighs without filament", 190),
  nominal_g: quantity("mass", "what the label says of the filament when new", 1000),
  tare_method: z.custom<TareMethod>(),
  place: z.number(),
  at: maybeMoment,
  moisture_pct: maybeQuantity("plain", "its water", 0.2),
});

interface Props {
  /** The one that the new spool is like. */
  like?: SpoolFacts | undefined;
  onClose: () => void;
}

/** The next name of a row of like ones: “Hinge stock 3” after “Hinge stock 2”. */
function nextName(name: string): string {
  const found = /^(.*?)(\d+)$/.exec(name);
  return found ? `${found[1] ?? ""}${Number(found[2]) + 1}` : `${name} 2`;
}

const PLAIN = {
  name: "",
  material: "pla",
  colour: "",
  maker: "",
  purpose: "",
  form: "wound" as "wound" | "loose",
  strand_diameter_mm: "1.75",
};

/** What another spool of the same kind begins with. */
function likeThis({ traced }: SpoolFacts): typeof PLAIN {
  const { name, material, colour, maker, purpose, form, strand_diameter_mm } = traced.lane.spool;
  return {
    name: nextName(name),
    ...{ material, colour, maker, purpose, form },
    strand_diameter_mm: String(strand_diameter_mm),
  };
}

/** A spool more: what it is, what its empty spool weighs, where it stands. */
export function NewSpool({ like, onClose }: Props) {
  const { data: emptySpools } = useQuery(emptySpoolsQuery);
  const { data: places } = useQuery(placesQuery);
  if (!emptySpools || !places)
    return (
      <Slip title="Add a spool" onClose={onClose} onSubmit={() => undefined}>
        <p role="status">Loading …</p>
      </Slip>
    );
  return <SpoolSlip {...{ like, emptySpools, places, onClose }} />;
}

interface Kit extends Props {
  emptySpools: EmptySpool[];
  places: Place[];
}

function SpoolSlip({ like, emptySpools, places, onClose }: Kit) {
  const { purpose, form: shape, strand_diameter_mm, ...begun } = like ? likeThis(like) : PLAIN;
  const { notify } = useShell();
  const add = useAddSpool();
  const addEmpty = useAddEmptySpool();
  const form = useActForm(SHAPE, {
    ...begun,
    empty_spool: like?.empty_spool ?? emptySpools[0]?.id ?? NEW,
    kind: "polystyrene",
    ...{ outer_diameter_mm: "", width_mm: "", hub_diameter_mm: "" },
    tare_g: "",
    tare_method: "unknown",
    nominal_g: shownIn("mass", 1000),
    place: places[0]?.id ?? NEW,
    at: "",
    moisture_pct: "",
  });
  const { control } = form;
  const [chosen, since] = useWatch({ control, name: ["empty_spool", "at"] });

  const submit = form.submit(async (typed) => {
    const { kind, at, outer_diameter_mm, width_mm, hub_diameter_mm, ...values } = typed;
    const sizes = { outer_diameter_mm, width_mm, hub_diameter_mm };
    const name = `${EMPTY_SPOOL_WORDS[kind]} spool`;
    const empty =
      values.empty_spool === NEW
        ? await addEmpty.mutateAsync({ name, kind, nominal_g: values.nominal_g, ...sizes })
        : { id: values.empty_spool };
    // A spool that is refused after its empty one was stored is sent again with that one.
    form.set("empty_spool", empty.id);
    const { undo } = await add.mutateAsync({
      ...values,
      empty_spool: empty.id,
      ...{ purpose, form: shape, strand_diameter_mm },
      ...(at === null ? {} : { at }),
    });
    onClose();
    notify({ text: `Added ${values.name}. Weigh it with W.`, undo });
  });

  return (
    <Slip
      title={like ? `Another like ${like.traced.lane.spool.name}` : "Add a spool"}
      problem={form.problem}
      onClose={onClose}
      onSubmit={submit}
    >
      <TextField control={control} name="name" label="Name" maxLength={60} autoFocus />
      <MaterialField control={control} />
      <div className="grid grid-cols-2 gap-3">
        <TextField control={control} name="colour" label="Colour" maxLength={40} />
        <TextField control={control} name="maker" label="Maker" maxLength={60} />
      </div>
      <PickField
        control={control}
        name="empty_spool"
        label="Empty spool"
        options={[
          ...emptySpools.map((emptySpool) => ({
            value: emptySpool.id,
            name: emptySpool.name,
            note: EMPTY_SPOOL_WORDS[emptySpool.kind],
          })),
          { value: NEW, name: "another …" },
        ]}
      />
      {chosen === NEW && (
        <>
          <PickField
            control={control}
            name="kind"
            label="It is made of"
            options={optionsOf(EMPTY_SPOOL_WORDS)}
          />
          <div className="grid grid-cols-3 items-end gap-3">
            {SIZES.map(([name, label]) => (
              <NumberField key={name} control={control} name={name} label={label} measure="size" />
            ))}
          </div>
          <p className="-mt-2 text-sm text-muted">
            Leave a size empty if you have not measured it: the usual one for its label is taken.
          </p>
        </>
      )}
      <TareFields control={control} />
      <PickField
        control={control}
        name="place"
        label="It stands"
        options={places.map((place) => ({ value: place.id, name: place.name }))}
      />
      <JustNowField control={control} name="at" what="Put there" now="put there just now" />
      <NumberField
        control={control}
        name="moisture_pct"
        label={since === "" ? "Its water, if you know it" : "Its water then, if you know it"}
        unit="%"
        hint="Leave empty for a new spool: filament is cooled in water and often wound damp. A spool that was opened earlier has been taking up water since: say when it was put there."
      />
      <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
        Add it
      </Button>
    </Slip>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useWatch } from "react-hook-form";
import { useNavigate } from "react-router";
import * as z from "zod";
import { useFirstWorkshop } from "./acts";
import { type DryerKind } from "../../api/client";
import { usualScale } from "../equipment/fields";
import { dryerKinds } from "../equipment/queries";
import { materials as materialsQuery } from "../materials/queries";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { PageHeading } from "../../components/PageHeading";
import { panel } from "../../components/classes";
import { NumberField, PickField, TextField, TickField } from "../../forms/fields";
import { shownIn } from "../../domain/measures";
import { fixed } from "../../domain/numbers";
import { temp } from "../../domain/quantities";
import { optionsOf } from "../../forms/options";
import { maybeQuantity, quantity, words } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { room as roomQuery } from "../storage/queries";
import { TareFields } from "../spools/TareFields";
import { EMPTY_SPOOL_WORDS, type TareMethod } from "../spools/words";

const SHAPE = z.object({
  room_name: words("a name for the room", "the workshop"),
  room_temp_c: maybeQuantity("temp", "the room’s temperature", 21.5),
  room_rh_pct: maybeQuantity("plain", "the room’s relative humidity", 46),
  spool_name: words("a name for the spool", "Hinge stock"),
  material: z.string(),
  empty_spool_kind: z.custom<keyof typeof EMPTY_SPOOL_WORDS>(),
  gross_g: maybeQuantity("mass", "what the spool weighs with its filament", 1180),
  tare_g: maybeQuantity("mass", "what the spool weighs without filament", 190),
  nominal_g: quantity("mass", "what the label says of the filament when new", 1000),
  tare_method: z.custom<TareMethod>(),
  dryer_name: words("a name for the dryer", "Grey box"),
  dryer_kind: z.custom<DryerKind["kind"]>(),
  dryer_min_c: quantity("temp", "the coolest air that the dryer holds", 40),
  dryer_max_c: quantity("temp", "the hottest air that the dryer reaches", 70),
  no_scale: z.boolean(),
  scale_name: words("a name for the scale", "Kitchen scale"),
  scale_max_g: quantity("mass", "the most that the scale carries", 5000),
  scale_step_g: quantity("mass", "the step that the scale shows", 1),
});

/** An empty workshop: room, one spool, one dryer, one scale, and off to the first plan. */
export function FirstWorkshop() {
  const navigate = useNavigate();
  const { data: materials = [] } = useQuery(materialsQuery);
  const { data: kinds = [] } = useQuery(dryerKinds);
  const { data: room } = useQuery(roomQuery);
  const assumed = room?.measured_at === null && `${temp(room.temp_c)} and ${fixed(room.rh_pct, 0)} %`;
  const begin = useFirstWorkshop();
  const scale = usualScale();
  const usual = { scale_name: scale.name, scale_max_g: scale.max_g, scale_step_g: scale.resolution_g };
  const form = useActForm(SHAPE, {
    ...{ room_name: "the workshop", room_temp_c: "", room_rh_pct: "" },
    ...{ spool_name: "", material: "pla", empty_spool_kind: "polystyrene" },
    ...{ gross_g: "", tare_g: "", tare_method: "unknown", nominal_g: shownIn("mass", 1000) },
    ...{ dryer_name: "", dryer_kind: "heated_box", dryer_min_c: "", dryer_max_c: "" },
    ...{ no_scale: false, ...usual },
  });
  const { control } = form;
  const weighed = !useWatch({ control, name: "no_scale" });
  const forgetScale = () => {
    form.set("gross_g", "");
    for (const [name, text] of Object.entries(usual)) form.set(name as keyof typeof usual, text);
  };
  const submit = form.submit(async ({ no_scale, ...typed }) => {
    const values = no_scale ? { ...typed, gross_g: null, scale_name: "" } : typed;
    const { spool, dryer } = await begin.mutateAsync(values);
    // The rack takes this form away as soon as there is a spool, so the way on is not left to it.
    await navigate(`/plan?spool=${spool}&dryer=${dryer}`);
  });

  return (
    <>
      <PageHeading page="First spool" className="mb-1">
        Describe one spool, and Darre plans how to dry it.
      </PageHeading>
      <p className="mb-4 text-muted">
        Four things to begin with, in a minute or two. All of it can be changed later; more spools, dryers and
        scales follow when you need them.
      </p>
      <form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          // What is not asked for must not stand in the way, whatever was typed there before.
          if (!weighed) forgetScale();
          submit();
        }}
      >
        <div className="grid gap-4 lane:grid-cols-2 xl:grid-cols-4">
          <Part title="The room">
            <TextField control={control} name="room_name" label="Name" maxLength={60} />
            <NumberField control={control} name="room_temp_c" label="Air now" measure="temp" />
            <NumberField
              control={control}
              name="room_rh_pct"
              label="Relative humidity now"
              unit="%"
              hint={assumed && `No meter? Leave both empty: ${assumed} are assumed.`}
            />
          </Part>
          <Part title="A spool">
            <TextField control={control} name="spool_name" label="Name" maxLength={60} />
            <PickField
              control={control}
              name="material"
              label="Material"
              options={materials.map((material) => ({
                value: material.id,
                name: material.short,
                note: material.name,
              }))}
            />
            <PickField
              control={control}
              name="empty_spool_kind"
              label="The empty spool is of"
              options={optionsOf(EMPTY_SPOOL_WORDS)}
            />
            {weighed && (
              <NumberField
                control={control}
                name="gross_g"
                label="It weighs, with its filament"
                measure="mass"
              />
            )}
            <TareFields control={control} weighed={weighed} />
          </Part>
          <Part title="A dryer">
            <TextField control={control} name="dryer_name" label="Name" maxLength={60} />
            <PickField
              control={control}
              name="dryer_kind"
              label="Kind"
              options={kinds.map((kind) => ({ value: kind.kind, name: kind.name }))}
            />
            <div className="grid grid-cols-2 gap-3">
              <NumberField control={control} name="dryer_min_c" label="Coolest air" measure="temp" />
              <NumberField control={control} name="dryer_max_c" label="Hottest air" measure="temp" />
            </div>
            <p className="text-sm text-muted">
              Everything else about it can wait: we use what is typical for its kind and say so.
            </p>
          </Part>
          <Part title="A scale">
            {weighed && (
              <>
                <TextField control={control} name="scale_name" label="Name" maxLength={60} />
                <NumberField control={control} name="scale_max_g" label="Carries up to" measure="mass" />
                <NumberField control={control} name="scale_step_g" label="Shows steps of" measure="mass" />
              </>
            )}
            <TickField control={control} name="no_scale" label="I have no scale yet" />
            {!weighed && (
              <p className="text-sm text-muted">
                Until you weigh, Darre goes by the label and by the room’s air. A kitchen scale will do to
                begin with.
              </p>
            )}
          </Part>
        </div>
        {form.problem !== undefined && <Alert>{form.problem}</Alert>}
        <Button kind="primary" type="submit" className="mt-4" disabled={form.busy}>
          {form.busy ? "Beginning …" : "Begin, and plan the first run"}
        </Button>
      </form>
    </>
  );
}

function Part({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <fieldset className={`${panel} flex flex-col gap-3`}>
      <legend className="float-left mb-1 w-full text-lg font-bold">{title}</legend>
      {children}
    </fieldset>
  );
}

import { Button } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useFirstWorkshop } from "./acts";
import { dryerKinds } from "../equipment/queries";
import { materials as materialsQuery } from "../materials/queries";
import { typedMass, typedTemp } from "../../domain/quantities";
import { massUnit, tempUnit } from "../../domain/units";
import { PageHeading } from "../../components/PageHeading";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { panel, primary } from "../../components/classes";
import { TarePicker, type TareMethod } from "../spools/TarePicker";
import { EMPTY_SPOOL_WORDS } from "../spools/words";
import { refusal } from "../../components/refusal";

const EMPTY = {
  room_name: "the workshop",
  room_temp_c: "",
  room_rh_pct: "",
  spool_name: "",
  gross_g: "",
  tare_g: "",
  dryer_name: "",
  dryer_min_c: "",
  dryer_max_c: "",
  scale_name: "Kitchen scale",
  scale_max_g: "",
  scale_step_g: "1",
};
type Name = keyof typeof EMPTY;

/** An empty workshop: room, one spool, one dryer, one scale, and off to the first plan. */
export function FirstWorkshop() {
  const navigate = useNavigate();
  const { data: materials = [] } = useQuery(materialsQuery);
  const { data: kinds = [] } = useQuery(dryerKinds);
  const begin = useFirstWorkshop();
  const [text, setText] = useState(EMPTY);
  const [material, setMaterial] = useState("pla");
  const [body, setBody] = useState<keyof typeof EMPTY_SPOOL_WORDS>("polystyrene");
  const [method, setMethod] = useState<TareMethod>("nominal");
  const [kind, setKind] = useState<(typeof kinds)[number]["kind"]>("heated_box");
  const { refused } = refusal(begin.error);
  const field = (name: Name, label: string, unit?: string, hint?: string) => (
    <Field
      label={label}
      {...(unit === undefined ? {} : { unit, inputMode: "decimal" as const })}
      value={text[name]}
      maxLength={60}
      hint={hint}
      error={refused?.field === name ? refused.message : undefined}
      onText={(value) => {
        setText({ ...text, [name]: value });
        begin.reset();
      }}
    />
  );

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
          void begin
            .mutateAsync({
              ...text,
              material,
              empty_spool_kind: body,
              tare_method: method,
              dryer_kind: kind,
              room_temp_c: typedTemp(text.room_temp_c),
              gross_g: typedMass(text.gross_g),
              tare_g: typedMass(text.tare_g),
              dryer_min_c: typedTemp(text.dryer_min_c),
              dryer_max_c: typedTemp(text.dryer_max_c),
              scale_max_g: typedMass(text.scale_max_g),
              scale_step_g: typedMass(text.scale_step_g),
            })
            // The rack takes this form away as soon as there is a spool, so the way on is not left to it.
            .then(({ spool, dryer }) => navigate(`/plan?spool=${spool}&dryer=${dryer}`))
            .catch(() => undefined);
        }}
      >
        <div className="grid gap-4 lane:grid-cols-2 xl:grid-cols-4">
          <fieldset className={`${panel} flex flex-col gap-3`}>
            <legend className="float-left mb-1 w-full text-lg font-bold">The room</legend>
            {field("room_name", "Name")}
            {field("room_temp_c", "Air now", tempUnit())}
            {field(
              "room_rh_pct",
              "Relative humidity now",
              "%",
              "A cheap meter will do; a logger can take over later.",
            )}
          </fieldset>
          <fieldset className={`${panel} flex flex-col gap-3`}>
            <legend className="float-left mb-1 w-full text-lg font-bold">A spool</legend>
            {field("spool_name", "Name")}
            <Picker
              label="Material"
              value={material}
              options={materials.map((it) => ({ value: it.id, name: it.short, note: it.name }))}
              onChoose={setMaterial}
            />
            <Picker
              label="The empty spool is of"
              value={body}
              options={Object.entries(EMPTY_SPOOL_WORDS).map(([value, name]) => ({
                value: value as keyof typeof EMPTY_SPOOL_WORDS,
                name,
              }))}
              onChoose={setBody}
            />
            <div className="grid grid-cols-2 gap-3">
              {field("gross_g", "It weighs", massUnit())}
              {field("tare_g", "Empty", massUnit())}
            </div>
            <TarePicker label="The empty mass is known by" value={method} onChoose={setMethod} />
          </fieldset>
          <fieldset className={`${panel} flex flex-col gap-3`}>
            <legend className="float-left mb-1 w-full text-lg font-bold">A dryer</legend>
            {field("dryer_name", "Name")}
            <Picker
              label="Kind"
              value={kind}
              options={kinds.map((it) => ({ value: it.kind, name: it.name }))}
              onChoose={setKind}
            />
            <div className="grid grid-cols-2 gap-3">
              {field("dryer_min_c", "Coolest air", tempUnit())}
              {field("dryer_max_c", "Hottest air", tempUnit())}
            </div>
            <p className="text-sm text-muted">
              Leave out what you don’t know. We use typical values and say so.
            </p>
          </fieldset>
          <fieldset className={`${panel} flex flex-col gap-3`}>
            <legend className="float-left mb-1 w-full text-lg font-bold">A scale</legend>
            {field("scale_name", "Name")}
            {field("scale_max_g", "Carries up to", massUnit())}
            {field("scale_step_g", "Shows steps of", massUnit())}
          </fieldset>
        </div>
        {refused && !Object.hasOwn(EMPTY, refused.field ?? "") && (
          <p role="alert" className="mt-3 font-bold text-heat">
            {refused.message}
          </p>
        )}
        <Button type="submit" className={`${primary} mt-4`} disabled={begin.isPending}>
          {begin.isPending ? "Beginning …" : "Begin, and plan the first run"}
        </Button>
      </form>
    </>
  );
}

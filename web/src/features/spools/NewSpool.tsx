import { Button } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useAddEmptySpool, useAddSpool } from "./acts";
import { materials as materialsQuery } from "../materials/queries";
import { emptySpools as emptySpoolsQuery } from "./queries";
import { places as placesQuery } from "../storage/queries";
import { typedMass } from "../../domain/quantities";
import { massUnit } from "../../domain/units";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { Slip } from "../../components/Slip";
import { primary } from "../../components/classes";
import { TarePicker, type TareMethod } from "./TarePicker";
import { EMPTY_SPOOL_WORDS } from "./words";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

const NEW = 0;
const USUAL_SIZES = { outer_diameter_mm: "200", width_mm: "60", hub_diameter_mm: "90" };
const OWN_FIELDS = ["name", "colour", "maker", "tare_g", "moisture_pct"];

/** A spool more: what it is, what its empty spool weighs, where it stands. */
export function NewSpool({ onClose }: { onClose: () => void }) {
  const { notify } = useShell();
  const { data: materials = [] } = useQuery(materialsQuery);
  const { data: emptySpools = [] } = useQuery(emptySpoolsQuery);
  const { data: places = [] } = useQuery(placesQuery);
  const add = useAddSpool();
  const addBody = useAddEmptySpool();
  const [text, setText] = useState({ name: "", colour: "", maker: "", tare: "", moisture: "" });
  const [material, setMaterial] = useState("pla");
  const [emptySpool, setEmptySpool] = useState<number | null>(null);
  const [bodyKind, setEmptySpoolKind] = useState<keyof typeof EMPTY_SPOOL_WORDS>("polystyrene");
  const [place, setPlace] = useState<number | null>(null);
  const [method, setMethod] = useState<TareMethod>("nominal");
  const chosenEmptySpool = firstOf(emptySpool, emptySpools);
  const chosenPlace = firstOf(place, places);
  const failed = add.error ?? addBody.error;
  const { refused, of } = refusal(failed);
  const write = (name: keyof typeof text) => (value: string) => {
    setText({ ...text, [name]: value });
    add.reset();
  };

  async function keep() {
    try {
      const own =
        chosenEmptySpool === NEW
          ? (
              await addBody.mutateAsync({
                name: `${EMPTY_SPOOL_WORDS[bodyKind]} spool`,
                kind: bodyKind,
                ...USUAL_SIZES,
              })
            ).id
          : chosenEmptySpool;
      const { undo } = await add.mutateAsync({
        name: text.name,
        purpose: "",
        form: "wound",
        strand_diameter_mm: "1.75",
        colour: text.colour,
        maker: text.maker,
        material,
        empty_spool: own,
        place: chosenPlace,
        tare_g: typedMass(text.tare),
        tare_method: method,
        moisture_pct: text.moisture.trim() === "" ? null : text.moisture,
      });
      onClose();
      notify({ text: `Added ${text.name}. Weigh it with W.`, undo });
    } catch {
      // What was refused stands at its field.
    }
  }

  return (
    <Slip title="Add a spool" onClose={onClose} onSubmit={() => void keep()}>
      <Field
        label="Name"
        value={text.name}
        maxLength={60}
        error={of("name")}
        onText={write("name")}
        autoFocus
      />
      <Picker
        label="Material"
        value={material}
        options={materials.map((it) => ({ value: it.id, name: it.short, note: it.name }))}
        onChoose={setMaterial}
      />
      <div className="grid grid-cols-2 gap-3">
        <Field
          label="Colour"
          value={text.colour}
          maxLength={40}
          error={of("colour")}
          onText={write("colour")}
        />
        <Field label="Maker" value={text.maker} maxLength={60} error={of("maker")} onText={write("maker")} />
      </div>
      <Picker
        label="Empty spool"
        value={chosenEmptySpool}
        options={[
          ...emptySpools.map((it) => ({ value: it.id, name: it.name, note: EMPTY_SPOOL_WORDS[it.kind] })),
          { value: NEW, name: "another …" },
        ]}
        onChoose={setEmptySpool}
      />
      {chosenEmptySpool === NEW && <BodyKind kind={bodyKind} onChoose={setEmptySpoolKind} />}
      <div className="grid grid-cols-2 gap-3">
        <Field
          label="Empty it weighs"
          unit={massUnit()}
          inputMode="decimal"
          value={text.tare}
          error={of("tare_g")}
          onText={write("tare")}
        />
        <TarePicker label="Known by" value={method} onChoose={setMethod} />
      </div>
      <Picker
        label="It stands"
        value={chosenPlace}
        options={places.map((it) => ({ value: it.id, name: it.name }))}
        onChoose={setPlace}
      />
      <Field
        label="Its water, if you know it"
        unit="%"
        inputMode="decimal"
        value={text.moisture}
        hint="Leave empty for a new spool: filament is cooled in water and often wound damp."
        error={of("moisture_pct")}
        onText={write("moisture")}
      />
      {refused && !OWN_FIELDS.includes(refused.field ?? "") && <Alert>{refused.message}</Alert>}
      <Button
        type="submit"
        className={`${primary} justify-center`}
        disabled={add.isPending || addBody.isPending}
      >
        Add it
      </Button>
    </Slip>
  );
}

function BodyKind({
  kind,
  onChoose,
}: {
  kind: keyof typeof EMPTY_SPOOL_WORDS;
  onChoose: (kind: keyof typeof EMPTY_SPOOL_WORDS) => void;
}) {
  return (
    <Picker
      label="It is made of"
      value={kind}
      options={Object.entries(EMPTY_SPOOL_WORDS).map(([value, name]) => ({
        value: value as keyof typeof EMPTY_SPOOL_WORDS,
        name,
      }))}
      onChoose={onChoose}
    />
  );
}

/** What was chosen, else the first there is. */
const firstOf = (chosen: number | null, all: readonly { id: number }[]): number =>
  chosen ?? all[0]?.id ?? NEW;

import { Button } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useAddBody, useAddSpool } from "../../api/mutations";
import { bodies as bodiesQuery, materials as materialsQuery, places as placesQuery } from "../../api/queries";
import { typedMass } from "../../format/quantities";
import { massUnit } from "../../format/units";
import { useShell } from "../../shell/shell";
import { Field } from "../../ui/Field";
import { Picker } from "../../ui/Picker";
import { Slip } from "../../ui/Slip";
import { primary } from "../../ui/classes";
import { BODY_WORDS, TARE_WORDS } from "../../words/spools";
import { Alert } from "../../ui/Alert";
import { refusal } from "../../ui/refusal";

const NEW = 0;
const USUAL_SIZES = { outer_diameter_mm: "200", width_mm: "60", hub_diameter_mm: "90" };
const OWN_FIELDS = ["name", "colour", "maker", "tare_g", "moisture_pct"];

/** A spool more: what it is, what its empty body weighs, where it stands. */
export function NewSpool({ onClose }: { onClose: () => void }) {
  const { notify } = useShell();
  const { data: materials = [] } = useQuery(materialsQuery);
  const { data: bodies = [] } = useQuery(bodiesQuery);
  const { data: places = [] } = useQuery(placesQuery);
  const add = useAddSpool();
  const addBody = useAddBody();
  const [text, setText] = useState({ name: "", colour: "", maker: "", tare: "", moisture: "" });
  const [material, setMaterial] = useState("pla");
  const [body, setBody] = useState<number | null>(null);
  const [bodyKind, setBodyKind] = useState<keyof typeof BODY_WORDS>("polystyrene");
  const [place, setPlace] = useState<number | null>(null);
  const [method, setMethod] = useState<keyof typeof TARE_WORDS>("nominal");
  const chosenBody = firstOf(body, bodies);
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
        chosenBody === NEW
          ? (
              await addBody.mutateAsync({
                name: `${BODY_WORDS[bodyKind]} spool`,
                kind: bodyKind,
                ...USUAL_SIZES,
              })
            ).id
          : chosenBody;
      const { undo } = await add.mutateAsync({
        name: text.name,
        purpose: "",
        form: "wound",
        strand_diameter_mm: "1.75",
        colour: text.colour,
        maker: text.maker,
        material,
        body: own,
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
        value={chosenBody}
        options={[
          ...bodies.map((it) => ({ value: it.id, name: it.name, note: BODY_WORDS[it.kind] })),
          { value: NEW, name: "another …" },
        ]}
        onChoose={setBody}
      />
      {chosenBody === NEW && <BodyKind kind={bodyKind} onChoose={setBodyKind} />}
      <div className="grid grid-cols-2 gap-3">
        <Field
          label="Empty it weighs"
          unit={massUnit()}
          inputMode="decimal"
          value={text.tare}
          error={of("tare_g")}
          onText={write("tare")}
        />
        <Picker
          label="Known by"
          value={method}
          options={Object.entries(TARE_WORDS).map(([value, it]) => ({
            value: value as keyof typeof TARE_WORDS,
            name: it.name,
            note: it.note,
          }))}
          onChoose={setMethod}
        />
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
        hint="Empty: new strand, cooled in a water bath and often wound wet, so half way to soaked."
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
  kind: keyof typeof BODY_WORDS;
  onChoose: (kind: keyof typeof BODY_WORDS) => void;
}) {
  return (
    <Picker
      label="It is made of"
      value={kind}
      options={Object.entries(BODY_WORDS).map(([value, name]) => ({
        value: value as keyof typeof BODY_WORDS,
        name,
      }))}
      onChoose={onChoose}
    />
  );
}

/** What was chosen, else the first there is. */
const firstOf = (chosen: number | null, all: readonly { id: number }[]): number =>
  chosen ?? all[0]?.id ?? NEW;

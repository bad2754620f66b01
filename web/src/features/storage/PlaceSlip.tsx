import { Button } from "@headlessui/react";
import { useState } from "react";
import { type Place } from "../../api/client";
import { useAddPlace, useChangePlace, useRemovePlace } from "./acts";
import { typedTempStep } from "../../domain/quantities";
import { tempUnit, toTempStep } from "../../domain/units";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { Slip } from "../../components/Slip";
import { link, primary } from "../../components/classes";
import { PLACE_WORDS } from "./words";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

const textOf = (value: number | null | undefined): string =>
  value === null || value === undefined ? "" : String(value);
const orNull = (text: string): string | null => (text.trim() === "" ? null : text);

const FRESH = { name: "", kind: "gasket_bin", ingress_m3_day: null, air_l: null, warm_c: 0 } as const;
const OWN_FIELDS = ["name", "ingress_m3_day", "air_l", "warm_c"];

/** A place where spools stand: a new one, or one that is there. */
export function PlaceSlip({ place, onClose }: { place?: Place; onClose: () => void }) {
  const { notify } = useShell();
  const add = useAddPlace();
  const change = useChangePlace();
  const remove = useRemovePlace();
  const was = place ?? FRESH;
  const [name, setName] = useState(was.name);
  const [kind, setKind] = useState<Place["kind"]>(was.kind);
  const [ingress, setIngress] = useState(textOf(was.ingress_m3_day));
  const [air, setAir] = useState(textOf(was.air_l));
  const [warm, setWarm] = useState(textOf(toTempStep(was.warm_c)));
  const failed = add.error ?? change.error ?? remove.error;
  const { refused, of } = refusal(failed);
  const done = (text: string) => ({
    onSuccess: ({ undo }: { undo: number | null }) => {
      onClose();
      notify({ text, undo });
    },
  });
  return (
    <Slip
      title={place ? `Change ${place.name}` : "Add a place"}
      onClose={onClose}
      onSubmit={() => {
        const body = {
          name,
          kind,
          ingress_m3_day: orNull(ingress),
          air_l: orNull(air),
          warm_c: kind === "warm_box" ? typedTempStep(warm) : "0",
        };
        if (place) change.mutate({ id: place.id, body }, done(`Changed ${name}.`));
        else add.mutate(body, done(`Added ${name}. Move spools there with M.`));
      }}
    >
      <Field label="Name" value={name} maxLength={60} error={of("name")} onText={setName} autoFocus />
      <Picker
        label="It is"
        value={kind}
        options={Object.entries(PLACE_WORDS).map(([value, words]) => ({
          value: value as Place["kind"],
          name: words,
        }))}
        onChoose={setKind}
      />
      <Habits
        kind={kind}
        text={{ ingress, air, warm }}
        write={{ ingress: setIngress, air: setAir, warm: setWarm }}
        of={of}
      />
      {kind === "vacuum_pot" && (
        <p className="border-l-4 border-heat pl-2 text-sm">
          Glass or acrylic under vacuum can implode: rated vessels only, and eye protection.
        </p>
      )}
      {refused && !OWN_FIELDS.includes(refused.field ?? "") && <Alert>{refused.message}</Alert>}
      <div className="flex items-center gap-4">
        <Button type="submit" className={primary} disabled={add.isPending || change.isPending}>
          Save
        </Button>
        {place && (
          <Button
            type="button"
            className={link}
            onClick={() => {
              remove.mutate(place.id, done(`Removed ${place.name}.`));
            }}
          >
            remove it
          </Button>
        )}
      </div>
    </Slip>
  );
}

interface HabitsProps {
  kind: Place["kind"];
  text: { ingress: string; air: string; warm: string };
  write: Record<"ingress" | "air" | "warm", (text: string) => void>;
  of: (field: string) => string | undefined;
}

/** What is known of how it lets the room's air in. */
function Habits({ kind, text, write, of }: HabitsProps) {
  if (kind === "warm_box") {
    return (
      <Field
        label="Warmer than the room by"
        unit={tempUnit()}
        inputMode="decimal"
        value={text.warm}
        error={of("warm_c")}
        onText={write.warm}
      />
    );
  }
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field
        label="What leaks in"
        unit="m³ a day"
        inputMode="decimal"
        value={text.ingress}
        hint="Empty: as usual for its kind."
        error={of("ingress_m3_day")}
        onText={write.ingress}
      />
      <Field
        label="Air in it"
        unit="l"
        inputMode="decimal"
        value={text.air}
        hint="Empty: usual."
        error={of("air_l")}
        onText={write.air}
      />
    </div>
  );
}

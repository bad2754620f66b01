import { Button } from "@headlessui/react";
import { useState } from "react";
import { type Holding, type Place } from "../../api/client";
import { useFillPlace, useWeighDesiccant } from "./acts";
import { mass, typedMass } from "../../domain/quantities";
import { when } from "../../domain/times";
import { massUnit } from "../../domain/units";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { Slip } from "../../components/Slip";
import { link, primary } from "../../components/classes";
import { DESICCANT_WORDS, INDICATOR_WORDS, POUCH_WORDS } from "./words";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

const entries = <Key extends string>(words: Record<Key, string>) =>
  (Object.entries(words) as [Key, string][]).map(([value, name]) => ({ value, name }));

/** Desiccant that was put in, or taken out. */
export function FillSlip({ place, onClose }: { place: Place; onClose: () => void }) {
  const { notify } = useShell();
  const fill = useFillPlace();
  const [kind, setKind] = useState<keyof typeof DESICCANT_WORDS>("silica_gel");
  const [grams, setGrams] = useState("");
  const [load, setLoad] = useState("");
  const [indicator, setIndicator] = useState<keyof typeof INDICATOR_WORDS>("none");
  const [pouch, setPouch] = useState<keyof typeof POUCH_WORDS>("bare");
  const { refused, of } = refusal(fill.error);
  const done = (text: string) => ({
    onSuccess: ({ undo }: { undo: number | null }) => {
      onClose();
      notify({ text, undo });
    },
  });
  return (
    <Slip
      title={`Desiccant in ${place.name}`}
      onClose={onClose}
      onSubmit={() => {
        fill.mutate(
          {
            id: place.id,
            body: {
              kind,
              dry_g: typedMass(grams),
              load_pct: load.trim() === "" ? null : load,
              indicator,
              pouch,
            },
          },
          done(`Put ${DESICCANT_WORDS[kind]} into ${place.name}.`),
        );
      }}
    >
      <Picker label="Kind" value={kind} options={entries(DESICCANT_WORDS)} onChoose={setKind} />
      <Field
        label="How much, dry"
        unit={massUnit()}
        inputMode="decimal"
        value={grams}
        error={of("dry_g")}
        onText={setGrams}
        autoFocus
      />
      <Field
        label="Water in it"
        unit="% of it"
        inputMode="decimal"
        value={load}
        hint="Empty: fresh out of the oven."
        error={of("load_pct")}
        onText={setLoad}
      />
      <div className="grid grid-cols-2 gap-3">
        <Picker
          label="It shows by"
          value={indicator}
          options={entries(INDICATOR_WORDS)}
          onChoose={setIndicator}
        />
        <Picker label="It lies in" value={pouch} options={entries(POUCH_WORDS)} onChoose={setPouch} />
      </div>
      {indicator === "blue" && (
        <p className="border-l-4 border-heat pl-2 text-sm">
          Blue beads may contain cobalt salts: wear gloves, raise no dust, keep away from children and food.
        </p>
      )}
      {refused && !["dry_g", "load_pct"].includes(refused.field ?? "") && <Alert>{refused.message}</Alert>}
      <div className="flex items-center gap-4">
        <Button type="submit" className={primary} disabled={fill.isPending}>
          It is in
        </Button>
        <Button
          type="button"
          className={link}
          onClick={() => {
            fill.mutate(
              { id: place.id, body: { kind: "", dry_g: 0, indicator, pouch } },
              done(`No desiccant in ${place.name} from now on.`),
            );
          }}
        >
          there is none in it now
        </Button>
      </div>
    </Slip>
  );
}

/** What the desiccant weighs: two weighings tell what gets in. */
export function PackSlip({ holding, onClose }: { holding: Holding; onClose: () => void }) {
  const { notify } = useShell();
  const weigh = useWeighDesiccant();
  const [grams, setGrams] = useState("");
  const { refused } = refusal(weigh.error);
  const fill = holding.desiccant?.fill;
  if (!fill) return null;
  const now = new Date();
  return (
    <Slip
      title={`Weigh the desiccant of ${holding.place.name}`}
      onClose={onClose}
      onSubmit={() => {
        weigh.mutate(
          { id: fill.id, body: { mass_g: typedMass(grams), plus_minus_g: "0.2" } },
          {
            onSuccess: ({ undo }) => {
              onClose();
              notify({ text: `Saved the desiccant’s mass in ${holding.place.name}.`, undo });
            },
          },
        );
      }}
    >
      <Field
        label="It weighs, pouch and all"
        unit={massUnit()}
        large
        autoFocus
        inputMode="decimal"
        value={grams}
        hint="Always the same things on the scale; promptly after opening."
        error={refused?.message}
        onText={(text) => {
          setGrams(text);
          weigh.reset();
        }}
      />
      <ul className="text-sm">
        {fill.weighings.map((it) => (
          <li key={it.id} className="flex justify-between border-b border-line py-1">
            <span>{when(new Date(it.at), now)}</span>
            <span className="num">{mass(it.mass_g, 1)}</span>
          </li>
        ))}
      </ul>
      <Button type="submit" className={`${primary} justify-center`} disabled={weigh.isPending}>
        Save
      </Button>
    </Slip>
  );
}

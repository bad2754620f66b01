import { type Control, useWatch } from "react-hook-form";
import type * as z from "zod";
import { type Dryer, type DryerKind } from "../../api/client";
import { useAddDryer, useChangeDryer, useRemoveDryer, useSetInService } from "./acts";
import { measured } from "../../domain/measures";
import { useShell } from "../../components/shell";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { panel } from "../../components/classes";
import { ChoiceField, NumberField, PickField, TextField } from "../../forms/fields";
import { useActForm } from "../../forms/useActForm";
import { optionsOf, YES_NO_UNKNOWN } from "../../forms/options";
import { DESICCANT_WORDS } from "../storage/words";
import {
  bodyOf,
  DESICCANT_LOAD,
  DESICCANT_MASS,
  type Draft,
  draftOf,
  GROUPS,
  type KitField,
  NEEDED,
  SHAPE,
  unitOf,
} from "./fields";

interface Props {
  dryer: Dryer | undefined;
  kinds: DryerKind[];
  onKept: (id: number) => void;
}

/** What a dryer is. What is left empty is not known; plans then use what is usual for its kind, and say so. */
export function DryerForm({ dryer, kinds, onKept }: Props) {
  const { notify } = useShell();
  const add = useAddDryer();
  const change = useChangeDryer();
  const remove = useRemoveDryer();
  const service = useSetInService();
  const form = useActForm(SHAPE, draftOf(dryer));
  const { control } = form;
  const submit = form.submit(async (values) => {
    const body = bodyOf(values);
    const answer = dryer ? await change.mutateAsync({ id: dryer.id, body }) : await add.mutateAsync(body);
    form.reset(draftOf(answer.dryer)); // fresh desiccant has its water now: saved again it must not be fresh again
    notify({ text: `Saved ${answer.dryer.name}.`, undo: answer.undo });
    onKept(answer.dryer.id);
  });
  return (
    <form
      noValidate
      aria-label={dryer ? dryer.name : "New dryer"}
      className={`${panel} flex min-w-0 flex-col gap-3`}
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <div className="grid gap-3 sm:grid-cols-2">
        <TextField control={control} name="name" label="Name" maxLength={60} />
        <PickField
          control={control}
          name="kind"
          label="Kind"
          options={kinds.map((kind) => ({ value: kind.kind, name: kind.name }))}
        />
      </div>
      {GROUPS.map((group) => (
        <fieldset key={group.title}>
          <legend className="mb-1 font-bold">{group.title}</legend>
          <div className="grid grid-cols-2 items-start gap-x-3 gap-y-2 sm:grid-cols-4">
            {group.fields.map((field) => (
              <Fact key={field.name} control={control} it={field} kinds={kinds} dryer={dryer} />
            ))}
          </div>
        </fieldset>
      ))}
      <InIt control={control} />
      <div className="grid gap-3 sm:grid-cols-2">
        <TextField
          control={control}
          name="timer_choices_h"
          label="Timer settings, h"
          hint="for example 3, 5, 9; leave empty for any"
        />
        <TextField
          control={control}
          name="levels"
          label="Levels in place of degrees"
          hint="for example mild 42, full 58"
        />
        <div className="grid grid-cols-2 gap-3 sm:col-span-2">
          <ChoiceField control={control} name="fan" label="Fan" across options={YES_NO_UNKNOWN} />
          <ChoiceField
            control={control}
            name="on_plate"
            label="Spool on the heated plate"
            across
            options={YES_NO_UNKNOWN}
          />
        </div>
      </div>
      {form.problem !== undefined && <Alert>{form.problem}</Alert>}
      <div className="flex items-center gap-4">
        <Button kind="primary" type="submit" disabled={form.busy}>
          {dryer ? "Save" : "Add it"}
        </Button>
        {dryer && (
          <Button
            kind="link"
            disabled={service.isPending}
            onClick={() => {
              const back = !dryer.in_service;
              service.mutate(
                { id: dryer.id, in_service: back },
                {
                  onSuccess: ({ undo }) => {
                    notify({ text: `${dryer.name} is ${back ? "back in" : "out of"} service.`, undo });
                  },
                  onError: form.refuse,
                },
              );
            }}
          >
            {dryer.in_service ? "take it out of service" : "put it back in service"}
          </Button>
        )}
        {dryer && (
          <Button
            kind="link"
            onClick={() => {
              remove.mutate(dryer.id, {
                onSuccess: ({ undo }) => {
                  notify({ text: `Removed ${dryer.name}.`, undo });
                },
                onError: form.refuse,
              });
            }}
          >
            remove it
          </Button>
        )}
      </div>
    </form>
  );
}

const DESICCANTS = [{ value: "" as const, name: "none" }, ...optionsOf(DESICCANT_WORDS)];

/** The desiccant in it: what it takes up counts in every plan. */
function InIt({ control }: { control: Control<Draft, unknown, z.output<typeof SHAPE>> }) {
  const [kind, grams, load] = useWatch({
    control,
    name: ["desiccant_kind", "desiccant_g", "desiccant_load_pct"],
  });
  return (
    <fieldset>
      <legend className="mb-1 font-bold">Desiccant in it</legend>
      <div className="grid grid-cols-2 items-start gap-x-3 gap-y-2 sm:grid-cols-4">
        <div className="col-span-2">
          <PickField control={control} name="desiccant_kind" label="Kind of desiccant" options={DESICCANTS} />
        </div>
        {kind !== "" && (
          <>
            <NumberField
              control={control}
              name="desiccant_g"
              label={DESICCANT_MASS.label}
              measure="mass"
              hint={grams === "" ? "needed" : undefined}
            />
            <NumberField
              control={control}
              name="desiccant_load_pct"
              label={DESICCANT_LOAD.label}
              unit={unitOf(DESICCANT_LOAD)}
              hint={load === "" ? "fresh out of the oven" : undefined}
            />
          </>
        )}
      </div>
      {kind === "silica_gel" && (
        <p className="mt-1 text-sm text-muted">
          Blue beads may contain cobalt salts: wear gloves, raise no dust, keep away from children and food.
        </p>
      )}
    </fieldset>
  );
}

interface FactProps {
  control: Control<Draft, unknown, z.output<typeof SHAPE>>;
  it: KitField;
  kinds: DryerKind[];
  dryer: Dryer | undefined;
}

/** One number, with what a plan takes for it while it is empty. */
function Fact({ control, it, kinds, dryer }: FactProps) {
  const [typed, kind, metered, onPlate] = useWatch({
    control,
    name: [it.name, "kind", "metered_kwh", "on_plate"],
  });
  const of = kinds.find((one) => one.kind === kind);
  const usual = of && onPlate === "yes" ? { ...of, hot_side_excess_c: of.plate_excess_c } : of;
  const hint = typed === "" ? emptyHint(it, metered !== "", usual, dryer) : undefined;
  return <NumberField control={control} name={it.name} label={it.label} unit={unitOf(it)} hint={hint} />;
}

/** What a plan takes for a number that is not known. */
function emptyHint(
  kitField: KitField,
  isMetered: boolean,
  kind: DryerKind | undefined,
  dryer: Dryer | undefined,
): string | undefined {
  if (NEEDED.includes(kitField.name)) return "needed";
  if (kitField.name === "display_offset_c" && dryer && dryer.probes.length > 0) return "from the probe pairs";
  if (kitField.name === "heater_w" && isMetered) return "from the metered run";
  if (kitField.name.startsWith("metered") || kitField.name.includes("max")) return undefined;
  const usual = kind?.[kitField.name as keyof DryerKind];
  if (typeof usual === "number") return `not known: ${measured(kitField.measure).shown(usual)} assumed`;
  return "not known";
}

import { Button } from "@headlessui/react";
import { useState } from "react";
import { type Dryer, type DryerKind } from "../../api/client";
import { useAddDryer, useChangeDryer, useRemoveDryer } from "./acts";
import { useShell } from "../../components/shell";
import { Choice } from "../../components/Choice";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { link, panel, primary } from "../../components/classes";
import { bodyOf, type Draft, draftOf, GROUPS, type KitField, NEEDED, shownValue, unitOf } from "./fields";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

interface Props {
  dryer: Dryer | undefined;
  kinds: DryerKind[];
  onKept: (id: number) => void;
}

/** A dryer's facts. What is left empty is not known; plans then use what is usual for its kind, and say so. */
export function DryerForm({ dryer, kinds, onKept }: Props) {
  const { notify } = useShell();
  const add = useAddDryer();
  const change = useChangeDryer();
  const remove = useRemoveDryer();
  const [draft, setDraft] = useState<Draft>(() => draftOf(dryer));
  const kind = kinds.find((it) => it.kind === draft.kind);
  const failed = add.error ?? change.error ?? remove.error;
  const { refused } = refusal(failed);
  const of = (field: string) => (refused?.field?.split(".")[0] === field ? refused.message : undefined);
  const write = (values: Partial<Draft>) => {
    setDraft({ ...draft, ...values });
    [add, change, remove].forEach((act) => {
      act.reset();
    });
  };
  const kept = (answer: { dryer: Dryer; undo: number | null }) => {
    notify({ text: `Saved ${answer.dryer.name}.`, undo: answer.undo });
    onKept(answer.dryer.id);
  };

  function submit() {
    const body = bodyOf(draft);
    if (dryer) change.mutate({ id: dryer.id, body }, { onSuccess: kept });
    else add.mutate(body, { onSuccess: kept });
  }

  const known = new Set([
    ...GROUPS.flatMap((group) => group.fields.map((it) => it.name as string)),
    "name",
    "note",
  ]);
  const elsewhere = refused && !known.has(refused.field?.split(".")[0] ?? "") ? refused.message : undefined;
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
        <Field
          label="Name"
          value={draft.name}
          maxLength={60}
          error={of("name")}
          onText={(name) => {
            write({ name });
          }}
        />
        <Picker
          label="Kind"
          value={draft.kind}
          options={kinds.map((it) => ({ value: it.kind, name: it.name }))}
          onChoose={(next) => {
            write({ kind: next });
          }}
        />
      </div>
      {GROUPS.map((group) => (
        <fieldset key={group.title}>
          <legend className="mb-1 font-bold">{group.title}</legend>
          <div className="grid grid-cols-2 items-start gap-x-3 gap-y-2 sm:grid-cols-4">
            {group.fields.map((it) => (
              <Field
                key={it.name}
                label={it.label}
                unit={unitOf(it)}
                inputMode="decimal"
                value={draft.numbers[it.name] ?? ""}
                error={of(it.name)}
                hint={hintOf(it, draft, kind, dryer)}
                onText={(text) => {
                  write({ numbers: { ...draft.numbers, [it.name]: text } });
                }}
              />
            ))}
          </div>
        </fieldset>
      ))}
      <div className="grid gap-3 sm:grid-cols-3">
        <Field
          label="Timer settings, h"
          value={draft.choices}
          hint="for example 3, 5, 9; leave empty for any"
          error={of("timer_choices_h")}
          onText={(choices) => {
            write({ choices });
          }}
        />
        <Field
          label="Levels in place of degrees"
          value={draft.levels}
          hint="for example mild 42, full 58"
          error={of("levels")}
          onText={(levels) => {
            write({ levels });
          }}
        />
        <Choice
          label="Fan"
          across
          value={draft.fan}
          options={[
            { value: "yes", name: "yes" },
            { value: "no", name: "no" },
            { value: "unknown", name: "?" },
          ]}
          onChoose={(fan) => {
            write({ fan });
          }}
        />
      </div>
      {elsewhere && <Alert>{elsewhere}</Alert>}
      <div className="flex items-center gap-4">
        <Button type="submit" className={primary} disabled={add.isPending || change.isPending}>
          {dryer ? "Save" : "Add it"}
        </Button>
        {dryer && (
          <Button
            className={link}
            onClick={() => {
              remove.mutate(dryer.id, {
                onSuccess: ({ undo }) => {
                  notify({ text: `Removed ${dryer.name}.`, undo });
                },
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

const filled = (draft: Draft, name: string) => (draft.numbers[name] ?? "") !== "";

/** What a plan takes for a number that is not known. */
function hintOf(
  it: KitField,
  draft: Draft,
  kind: DryerKind | undefined,
  dryer: Dryer | undefined,
): string | undefined {
  if (filled(draft, it.name)) return undefined;
  if (NEEDED.includes(it.name)) return "needed";
  if (it.name === "display_offset_c" && dryer && dryer.probes.length > 0) return "from the probe pairs";
  if (it.name === "heater_w" && filled(draft, "metered_kwh")) return "from the metered run";
  if (it.name.startsWith("metered") || it.name.includes("max")) return undefined;
  const usual = kind?.[it.name as keyof DryerKind];
  if (typeof usual === "number") return `not known: ${shownValue(it, usual)} assumed`;
  return "not known";
}

import {
  Combobox,
  ComboboxButton,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Field,
  Label,
} from "@headlessui/react";
import { useState } from "react";
import type { Dryer, Lane, Plan } from "../../api/client";
import type { School } from "../../api/queries";
import { degrees, fixed, plusMinus } from "../../format/numbers";
import { Choice } from "../../ui/Choice";
import { CommittedNumber } from "../../ui/CommittedNumber";
import { field } from "../../ui/classes";

interface Props {
  lanes: Lane[];
  lane: Lane;
  dryers: Dryer[];
  dryer: Dryer;
  school: School;
  plan: Plan | undefined;
  error: { field: string | null; message: string } | null;
  onChange: (values: Record<string, string | null>) => void;
}

const dryerNote = (dryer: Dryer): string =>
  `${degrees(dryer.min_c)} to ${degrees(dryer.max_c)} °C · ${
    dryer.timer_max_h === null ? "no timer" : `${degrees(dryer.timer_max_h)} h timer`
  }`;

/** Spool, dryer and school; then the temperature and the hours themselves. */
export function PlanControls({ lanes, lane, dryers, dryer, school, plan, error, onChange }: Props) {
  const own = { temp_c: null, duration_h: null };
  return (
    <div className="flex flex-col gap-3">
      <SpoolPicker
        lanes={lanes}
        lane={lane}
        onPick={(id) => {
          onChange({ spool: String(id), ...own });
        }}
      />
      <p className="text-sm">
        {lane.spool.material_short} · {lane.spool.form}
        {lane.net_g !== null && `, ${fixed(lane.net_g, 0)} g left`}
        <br />
        Water now{" "}
        <strong className="num">{plusMinus(lane.moisture.value, lane.moisture.plus_minus, 2)} %</strong>
      </p>
      <Choice
        label="Dry it in"
        value={dryer.id}
        options={dryers.map((it) => ({ value: it.id, name: it.name, note: dryerNote(it) }))}
        onChoose={(id) => {
          onChange({ dryer: String(id), ...own });
        }}
      />
      <Choice
        label="How hot do you like it?"
        across
        value={school}
        options={[
          { value: "gentle", name: "gentle" },
          { value: "usual", name: "usual" },
          { value: "brisk", name: "brisk" },
        ]}
        onChoose={(value) => {
          onChange({ school: value, ...own });
        }}
      />
      <div className="grid grid-cols-2 gap-3">
        <CommittedNumber
          key={`t ${lane.spool.id} ${dryer.id} ${school}`}
          label="Air at spool"
          unit="°C"
          shown={plan ? degrees(plan.temp_c) : ""}
          error={error?.field === "temp_c" ? error.message : undefined}
          onCommit={(text) => {
            onChange({ temp_c: text });
          }}
        />
        <CommittedNumber
          key={`h ${lane.spool.id} ${dryer.id} ${school}`}
          label="Heat for"
          unit="h"
          shown={plan ? String(Number(plan.duration_h.toFixed(2))) : ""}
          error={error?.field === "duration_h" ? error.message : undefined}
          onCommit={(text) => {
            onChange({ duration_h: text });
          }}
        />
      </div>
    </div>
  );
}

function SpoolPicker({ lanes, lane, onPick }: { lanes: Lane[]; lane: Lane; onPick: (id: number) => void }) {
  const [typed, setTyped] = useState("");
  const shown = lanes.filter((it) => it.spool.name.toLowerCase().includes(typed.toLowerCase()));
  return (
    <Field>
      <Label className="text-sm text-muted">Drying</Label>
      <Combobox
        immediate
        value={lane}
        by={(a: Lane | null, b: Lane | null) => a?.spool.id === b?.spool.id}
        onChange={(it) => {
          if (it) onPick(it.spool.id);
        }}
        onClose={() => {
          setTyped("");
        }}
      >
        <div className="relative">
          <ComboboxInput
            className={`${field} pr-8 text-xl font-bold`}
            displayValue={(it: Lane | null) => it?.spool.name ?? ""}
            onFocus={(event) => {
              event.currentTarget.select();
            }}
            onChange={(event) => {
              setTyped(event.target.value);
            }}
          />
          <ComboboxButton aria-label="All spools" className="absolute inset-y-0 right-0 px-2">
            ▾
          </ComboboxButton>
        </div>
        <ComboboxOptions
          anchor="bottom start"
          className="z-20 w-(--input-width) border-2 border-ink bg-paper empty:invisible"
        >
          {shown.map((it) => (
            <ComboboxOption
              key={it.spool.id}
              value={it}
              className="flex cursor-pointer justify-between gap-2 px-2 py-1 data-focus:bg-ground"
            >
              <span>{it.spool.name}</span>
              <span className="text-muted">{it.spool.material_short}</span>
            </ComboboxOption>
          ))}
        </ComboboxOptions>
      </Combobox>
    </Field>
  );
}

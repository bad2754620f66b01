import type { Dryer, Lane, Plan } from "../../api/client";
import type { School } from "../../api/queries";
import { degrees, fixed, likewise, percent } from "../../format/numbers";
import { SpoolPicker } from "../../spools/SpoolPicker";
import { Choice } from "../../ui/Choice";
import { CommittedNumber } from "../../ui/CommittedNumber";

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
  const fresh = { ...own, form: null };
  return (
    <div className="flex flex-col gap-3">
      <SpoolPicker
        label="Drying"
        lanes={lanes}
        lane={lane}
        onPick={(id) => {
          onChange({ spool: String(id), ...fresh });
        }}
      />
      <p className="text-sm">
        {lane.spool.material_short}
        {lane.net_g !== null && ` · ${fixed(lane.net_g, 0)} g left`}
        <br />
        Water now{" "}
        <strong className="num">
          {percent(lane.moisture.value)} ± {likewise(lane.moisture.plus_minus, lane.moisture.value)} %
        </strong>
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
      <Choice
        label="Dry it as"
        across
        value={plan?.form ?? lane.spool.form}
        options={[
          { value: "wound", name: "a wound spool" },
          { value: "loose", name: "a loose coil" },
        ]}
        onChoose={(value) => {
          onChange({ form: value });
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

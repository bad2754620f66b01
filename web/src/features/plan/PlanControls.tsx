import { useState } from "react";
import type { Dryer, Lane, Plan, Ring } from "../../api/client";
import type { Method } from "./queries";
import { likewise, percent } from "../../domain/numbers";
import { bareTemp, mass, temp, typedTemp } from "../../domain/quantities";
import { fromLocalField, toLocalField } from "../../domain/times";
import { tempUnit } from "../../domain/units";
import { SpoolPicker } from "../spools/SpoolPicker";
import { Button } from "../../components/Button";
import { Choice } from "../../components/Choice";
import { CommittedNumber } from "../../components/CommittedNumber";
import { Field } from "../../components/Field";
import { Picker, SomePicker } from "../../components/Picker";
import { limitReason, riskWords, METHODS } from "./words";
import { SheetDialog } from "./SheetDialog";
import type { usePlanChoice } from "./usePlanChoice";

interface Props {
  lanes: Lane[];
  dryers: Dryer[];
  choice: ReturnType<typeof usePlanChoice>;
  lane: Lane;
  plan: Plan | undefined;
  rings: readonly Ring[];
  error: { field: string | null; message: string } | null;
}

const HEATS = (dryer: Dryer) => dryer.kind !== "vacuum";
const DAY_H = 24;

function dryerNote(dryer: Dryer): string {
  if (!dryer.in_service) return "out of service";
  if (!HEATS(dryer)) return "keeps dry spools, does not heat";
  const timer = dryer.timer_max_h === null ? "no timer" : `${dryer.timer_max_h} h timer`;
  const range =
    dryer.levels.length > 0
      ? dryer.levels.map((level) => level.name).join(", ")
      : `${bareTemp(dryer.min_c)} to ${temp(dryer.max_c)}`;
  return `${range} · ${timer}`;
}

/** Spools, dryer and method; then the temperature and the hours themselves. */
export function PlanControls(props: Props) {
  const { lanes, dryers, choice, lane, plan } = props;
  const { change, coDried, query } = choice;
  const own = { temp_c: null, duration_h: null };
  return (
    <div className="flex flex-col gap-2.5 print:hidden">
      <SpoolPicker
        label="Drying"
        lanes={lanes}
        lane={lane}
        onPick={(id) => {
          change({ spool: String(id), ...own, form: null, with: null, aim_pct: null });
        }}
      />
      <Facts lane={lane} />
      <SomePicker
        label="Together with"
        none="alone"
        values={coDried}
        options={lanes
          .filter((other) => other.spool.id !== lane.spool.id)
          .map((lane) => ({ value: lane.spool.id, name: lane.spool.name, note: lane.material_short }))}
        onChoose={(ids) => {
          change({ with: ids.length > 0 ? ids.join(",") : null, ...own });
        }}
      />
      <Choice
        label="Dry it in"
        value={query.dryer ?? plan?.dryer.id ?? 0}
        options={dryers.map((dryer) => ({ value: dryer.id, name: dryer.name, note: dryerNote(dryer) }))}
        onChoose={(id) => {
          change({ dryer: String(id), ...own });
        }}
      />
      <WayChoice {...props} />
      {query.method === "ready_by" && <ReadyBy choice={choice} error={props.error} />}
      <Numbers {...props} />
      <Choice
        label="Dry it as"
        across
        value={plan?.form ?? lane.spool.form}
        options={[
          { value: "wound", name: "wound" },
          { value: "loose", name: "a loose coil" },
        ]}
        onChoose={(value) => {
          change({ form: value, ...own });
        }}
      />
    </div>
  );
}

function Facts({ lane }: { lane: Lane }) {
  const [open, setOpen] = useState(false);
  const { sheet } = lane.spool;
  return (
    <p className="text-sm leading-normal">
      {lane.material_short}
      {lane.net_g !== null && ` · ${mass(lane.net_g, 0)} left`}
      <br />
      Water now{" "}
      <strong className="num">
        {percent(lane.moisture.value)} ± {likewise(lane.moisture.plus_minus, lane.moisture.value)} %
      </strong>
      <br />
      <Button
        kind="link"
        onClick={() => {
          setOpen(true);
        }}
      >
        {sheet
          ? `maker’s sheet: ${temp(Number(sheet.temp_c))}, ${Number(sheet.duration_h)} h`
          : "note its maker’s sheet"}
      </Button>
      {open && (
        <SheetDialog
          spool={lane.spool}
          onClose={() => {
            setOpen(false);
          }}
        />
      )}
    </p>
  );
}

/** Why one would choose so, and what speaks against it here. */
function wayNote(method: Method, rings: readonly Ring[]): string {
  const ring = rings.find((ring) => ring.name === method);
  const reason = `${METHODS[method].reason}.`;
  return ring && ring.risk !== "none" ? `${reason} ${riskWords(ring.risk, ring.end_pct, null)}` : reason;
}

const PROGRAMMES: readonly Method[] = ["gentle", "usual", "brisk", "sheet", "own"];

function WayChoice({ choice, plan, rings }: Props) {
  const { query, change } = choice;
  const method = query.method ?? plan?.method ?? "usual";
  const there = (method: Method) =>
    !PROGRAMMES.includes(method) || rings.length === 0 || rings.some((ring) => ring.name === method);
  const byHand = query.temp_c !== undefined || query.duration_h !== undefined;
  const worst = plan?.broken[0];
  const end = plan?.ticket?.members[0]?.end_pct ?? 0;
  return (
    <Picker
      label="Choose by"
      value={method}
      options={(Object.keys(METHODS) as Method[]).filter(there).map((method) => ({
        value: method,
        name: METHODS[method].name,
        note: wayNote(method, rings),
      }))}
      onChoose={(method) => {
        const ready = toLocalField(new Date(Date.now() + DAY_H * 3_600_000));
        change({
          method,
          temp_c: null,
          duration_h: null,
          ready_at: method === "ready_by" ? (choice.readyAt ?? fromLocalField(ready)) : choice.readyAt,
        });
      }}
      hint={
        plan?.ticket && (
          <>
            {byHand ? "Set by your own pin." : `${METHODS[method].reason}.`}{" "}
            {riskWords(plan.risk, end, worst ? limitReason(worst, plan) : null)}
          </>
        )
      }
    />
  );
}

function ReadyBy({ choice, error }: Pick<Props, "choice" | "error">) {
  return (
    <Field
      label="Ready by"
      type="datetime-local"
      value={choice.readyAt === null ? "" : toLocalField(new Date(choice.readyAt))}
      error={error?.field === "ready_in_h" ? error.message : undefined}
      onText={(text) => {
        const at = fromLocalField(text);
        if (at) choice.change({ ready_at: at, temp_c: null, duration_h: null });
      }}
    />
  );
}

function Numbers({ choice, lane, plan, error }: Props) {
  const { query, change } = choice;
  const member = plan?.ticket?.members[0];
  // By what was chosen, not by what was answered: an answer that comes in late takes no text out of a field.
  const key = `${lane.spool.id} ${query.dryer ?? 0} ${query.method ?? ""} ${query.co_dried ?? ""}`;
  const of = (name: string) => (error?.field === name ? error.message : undefined);
  return (
    <div className="grid grid-cols-3 gap-2">
      <CommittedNumber
        key={`t ${key}`}
        label="Air"
        unit={tempUnit()}
        shown={plan?.ticket ? bareTemp(plan.ticket.air_c) : ""}
        error={of("temp_c")}
        onCommit={(text) => {
          change({ temp_c: typedTemp(text) });
        }}
      />
      <CommittedNumber
        key={`h ${key}`}
        label="Heat for"
        unit="h"
        shown={plan?.ticket ? String(Number(plan.ticket.duration_h.toFixed(2))) : ""}
        error={of("duration_h")}
        onCommit={(text) => {
          change({ duration_h: text });
        }}
      />
      <CommittedNumber
        key={`a ${key}`}
        label="Aim"
        unit="%"
        shown={member ? percent(member.aim_pct) : ""}
        error={of("aim_pct")}
        onCommit={(text) => {
          change({ aim_pct: text });
        }}
      />
    </div>
  );
}

import { Button } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNoteAir, useSetMonths } from "./acts";
import { months as monthsQuery } from "./queries";
import { bareTemp, typedTemp } from "../../domain/quantities";
import { fromLocalField, toLocalField } from "../../domain/times";
import { tempUnit } from "../../domain/units";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { Slip } from "../../components/Slip";
import { field, primary, quiet } from "../../components/classes";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

/** The room's air as read off now, and as it usually is through the year for hours that no one measured. */
export function RoomAirSlip({ onClose }: { onClose: () => void }) {
  const { notify } = useShell();
  const note = useNoteAir();
  const set = useSetMonths();
  const { data } = useQuery(monthsQuery);
  const [now, setNow] = useState({ temp: "", rh: "", at: toLocalField(new Date()) });
  const [year, setYear] = useState<Record<number, { temp: string; rh: string }> | null>(null);
  const rows =
    year ??
    Object.fromEntries(
      (data ?? []).map((it) => [
        it.month,
        { temp: bareTemp(Number(it.temp_c)), rh: String(Number(it.rh_pct)) },
      ]),
    );
  const { of } = refusal(note.error);
  const done = (text: string) => ({
    onSuccess: ({ undo }: { undo: number | null }) => {
      onClose();
      notify({ text, undo });
    },
  });
  const write = (month: number, part: "temp" | "rh", value: string) => {
    setYear({ ...rows, [month]: { temp: "", rh: "", ...rows[month], [part]: value } });
    set.reset();
  };
  return (
    <Slip
      title="The room’s air"
      onClose={onClose}
      onSubmit={() => {
        const at = fromLocalField(now.at);
        note.mutate(
          { temp_c: typedTemp(now.temp), rh_pct: now.rh, ...(at === null ? {} : { at }) },
          done("Noted the room’s air."),
        );
      }}
    >
      <div className="grid grid-cols-2 gap-3">
        <Field
          label="Air"
          unit={tempUnit()}
          inputMode="decimal"
          value={now.temp}
          error={of("temp_c")}
          autoFocus
          onText={(temp) => {
            setNow({ ...now, temp });
            note.reset();
          }}
        />
        <Field
          label="Relative humidity"
          unit="%"
          inputMode="decimal"
          value={now.rh}
          error={of("rh_pct")}
          onText={(rh) => {
            setNow({ ...now, rh });
            note.reset();
          }}
        />
      </div>
      <Field
        label="Read at, by this device's clock"
        type="datetime-local"
        value={now.at}
        error={of("at")}
        onText={(at) => {
          setNow({ ...now, at });
          note.reset();
        }}
      />
      <Button type="submit" className={`${primary} justify-center`} disabled={note.isPending}>
        Note it
      </Button>
      <h3 className="mt-2 font-bold">As it usually is, month by month</h3>
      <p className="text-sm text-muted">
        Fills in hours without a measurement. Leave out what you don’t know.
      </p>
      <div className="grid grid-cols-2 gap-x-4">
        {MONTHS.map((name, index) => (
          <div key={name} className="grid grid-cols-[2.5rem_1fr_1fr] items-center gap-1 py-0.5">
            <span className="text-sm">{name}</span>
            {(["temp", "rh"] as const).map((part) => (
              <input
                key={part}
                className={`${field} num`}
                inputMode="decimal"
                aria-label={`${name}, ${part === "temp" ? tempUnit() : "% relative humidity"}`}
                placeholder={part === "temp" ? tempUnit() : "%"}
                value={rows[index + 1]?.[part] ?? ""}
                onChange={(event) => {
                  write(index + 1, part, event.target.value);
                }}
              />
            ))}
          </div>
        ))}
      </div>
      {set.error && <Alert>{set.error.message}</Alert>}
      <Button
        type="button"
        className={`${quiet} justify-center`}
        disabled={set.isPending}
        onClick={() => {
          const months = Object.entries(rows)
            .filter(([, it]) => it.temp.trim() !== "" || it.rh.trim() !== "")
            .map(([month, it]) => ({ month: Number(month), temp_c: typedTemp(it.temp), rh_pct: it.rh }));
          set.mutate({ months }, done("Saved the room’s year."));
        }}
      >
        Save the year
      </Button>
    </Slip>
  );
}

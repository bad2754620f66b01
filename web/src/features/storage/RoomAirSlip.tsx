import { useQuery } from "@tanstack/react-query";
import * as z from "zod";
import type { RoomMonth } from "../../api/client";
import { useNoteAir, useSetMonths } from "./acts";
import { months as monthsQuery } from "./queries";
import { shownIn } from "../../domain/measures";
import { toLocalField } from "../../domain/times";
import { tempUnit } from "../../domain/units";
import { useShell } from "../../components/shell";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { Slip } from "../../components/Slip";
import { MomentField, NumberField } from "../../forms/fields";
import { maybeQuantity, moment, quantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";

const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

const SHAPE = z.object({
  temp_c: quantity("temp", "the room’s temperature", 21.5),
  rh_pct: quantity("plain", "the room’s relative humidity", 46),
  at: moment,
});

/** The room's air as read off now, and as it usually is through the year for hours that no one measured. */
export function RoomAirSlip({ onClose }: { onClose: () => void }) {
  const { notify } = useShell();
  const note = useNoteAir();
  const form = useActForm(SHAPE, { temp_c: "", rh_pct: "", at: toLocalField(new Date()) });
  const { control } = form;
  const submit = form.submit(async (values) => {
    const { undo } = await note.mutateAsync(values);
    onClose();
    notify({ text: "Noted the room’s air.", undo });
  });
  return (
    <Slip title="The room’s air" problem={form.problem} onClose={onClose} onSubmit={submit}>
      <div className="grid grid-cols-2 gap-3">
        <NumberField control={control} name="temp_c" label="Air" measure="temp" autoFocus />
        <NumberField control={control} name="rh_pct" label="Relative humidity" unit="%" />
      </div>
      <MomentField control={control} name="at" label="Read at" />
      <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
        Note it
      </Button>
      <Year onClose={onClose} />
    </Slip>
  );
}

const YEAR = z
  .object(
    Object.fromEntries(
      MONTHS.flatMap((name, index) => [
        [`temp_${index + 1}`, maybeQuantity("temp", `the temperature in ${name}`, 21.5)],
        [`rh_${index + 1}`, maybeQuantity("plain", `the relative humidity in ${name}`, 46)],
      ]),
    ),
  )
  .superRefine((year, issues) => {
    MONTHS.forEach((name, index) => {
      const [temp, rh] = [`temp_${index + 1}`, `rh_${index + 1}`];
      if ((year[temp] === null) === (year[rh] === null)) return;
      const missing = year[temp] === null ? temp : rh;
      const message = `Needed: both for ${name}, or neither.`;
      issues.addIssue({ code: "custom", path: [missing], message });
    });
  });

function Year({ onClose }: { onClose: () => void }) {
  const { data } = useQuery(monthsQuery);
  return data ? <YearForm months={data} onClose={onClose} /> : null;
}

function YearForm({ months, onClose }: { months: RoomMonth[]; onClose: () => void }) {
  const { notify } = useShell();
  const set = useSetMonths();
  const known = new Map(months.map((month) => [month.month, month]));
  const form = useActForm(
    YEAR,
    Object.fromEntries(
      MONTHS.flatMap((_, index) => {
        const month = known.get(index + 1);
        return [
          [`temp_${index + 1}`, month ? shownIn("temp", Number(month.temp_c)) : ""],
          [`rh_${index + 1}`, month ? shownIn("plain", Number(month.rh_pct)) : ""],
        ];
      }),
    ),
  );
  const { control } = form;
  const save = form.submit(async (year) => {
    const rows = MONTHS.flatMap((_, index) => {
      const [temp_c, rh_pct] = [year[`temp_${index + 1}`], year[`rh_${index + 1}`]];
      return temp_c && rh_pct ? [{ month: index + 1, temp_c, rh_pct }] : [];
    });
    const { undo } = await set.mutateAsync({ months: rows });
    onClose();
    notify({ text: "Saved the room’s year.", undo });
  });
  return (
    <>
      <h3 className="mt-2 font-bold">As it usually is, month by month</h3>
      <p className="text-sm text-muted">
        Fills in hours without a measurement. Leave out what you don’t know.
      </p>
      <div className="grid grid-cols-2 gap-x-4">
        {MONTHS.map((name, index) => (
          <div key={name} className="grid grid-cols-[2.5rem_1fr_1fr] items-start gap-1 py-0.5">
            <span className="pt-2 text-sm">{name}</span>
            <NumberField
              control={control}
              name={`temp_${index + 1}`}
              label={`${name}, temperature`}
              measure="temp"
              placeholder={tempUnit()}
              bare
            />
            <NumberField
              control={control}
              name={`rh_${index + 1}`}
              label={`${name}, relative humidity`}
              unit="%"
              placeholder="%"
              bare
            />
          </div>
        ))}
      </div>
      {form.problem !== undefined && <Alert>{form.problem}</Alert>}
      <Button kind="quiet" className="justify-center" disabled={form.busy} onClick={save}>
        Save the year
      </Button>
    </>
  );
}

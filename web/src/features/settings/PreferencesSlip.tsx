import { useQuery } from "@tanstack/react-query";
import { type Preferences } from "../../api/client";
import { session } from "../people/queries";
import { useSetPreferences } from "./acts";
import { fieldToMinute, minuteToField } from "../../domain/times";
import { LONGEST_NAME, myName, setMyName } from "../../domain/myName";
import { Button } from "../../components/Button";
import { Slip } from "../../components/Slip";
import { useShell } from "../../components/shell";
import { ChoiceField, NumberField, PickField, TextField } from "../../forms/fields";
import { optionsOf } from "../../forms/options";
import { maybeQuantity, maybeWords } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

const rate = maybeQuantity("plain", "the price of a kilowatt-hour", 0.3);
const minute = z.string().transform((text) => fieldToMinute(text) ?? 0);

const SHAPE = z.object({
  temp_unit: z.custom<Preferences["temp_unit"]>(),
  mass_unit: z.custom<Preferences["mass_unit"]>(),
  length_unit: z.custom<Preferences["length_unit"]>(),
  clock: z.custom<Preferences["clock"]>(),
  currency: maybeWords,
  day_rate: rate,
  night_rate: rate,
  night_from_min: minute,
  night_to_min: minute,
  home_weekdays: maybeWords,
  home_weekends: maybeWords,
  watch_first_h: z.number(),
  years_back: z.number(),
  thin_after_days: z.number(),
  name: maybeWords,
});

const rateText = (price: Preferences["day_rate"]): string => (price === null ? "" : String(price));

const UNITS = [
  ["temp_unit", "Temperature", { C: "°C", F: "°F" }],
  ["mass_unit", "Mass", { g: "g", oz: "oz" }],
  ["length_unit", "Length", { m: "m, mm", ft: "ft, in" }],
  ["clock", "Clock", { 24: "24 h", 12: "am, pm" }],
] as const;

const yearsAgo = (years: number) => ({ value: years, name: `${years} year${years === 1 ? "" : "s"} ago` });

/** Units, clock, currency and tariff. Everything is stored in °C, g and mm; this is how it is shown. */
export function PreferencesSlip({ preferences, onClose }: { preferences: Preferences; onClose: () => void }) {
  const { notify } = useShell();
  const set = useSetPreferences();
  const { data: me } = useQuery(session); // where everyone signs in, the account's name stands in the history
  const { temp_unit, mass_unit, length_unit, clock, currency } = preferences;
  const form = useActForm(SHAPE, {
    ...{ temp_unit, mass_unit, length_unit, clock, currency },
    day_rate: rateText(preferences.day_rate),
    night_rate: rateText(preferences.night_rate),
    night_from_min: minuteToField(preferences.night_from_min),
    night_to_min: minuteToField(preferences.night_to_min),
    home_weekdays: preferences.home_weekdays,
    home_weekends: preferences.home_weekends,
    watch_first_h: Number(preferences.watch_first_h),
    years_back: preferences.years_back,
    thin_after_days: preferences.thin_after_days,
    name: myName(),
  });
  const { control } = form;
  const submit = form.submit(async ({ name, ...values }) => {
    setMyName(name);
    const { undo } = await set.mutateAsync(values);
    onClose();
    notify({ text: "Saved the settings.", undo });
  });

  return (
    <Slip title="Settings" problem={form.problem} onClose={onClose} onSubmit={submit}>
      <div className="grid grid-cols-2 gap-3">
        {UNITS.map(([name, label, words]) => (
          <ChoiceField
            key={name}
            control={control}
            name={name}
            label={label}
            across
            options={optionsOf<string>(words)}
          />
        ))}
      </div>
      <h3 className="mt-2 font-bold">What a kilowatt-hour costs</h3>
      <div className="grid grid-cols-3 gap-3">
        <TextField control={control} name="currency" label="Currency" maxLength={8} />
        <NumberField control={control} name="day_rate" label="By day" />
        <NumberField control={control} name="night_rate" label="Cheap hours" />
      </div>
      <div className="grid grid-cols-2 gap-3">
        <TextField control={control} name="night_from_min" label="Cheap from" type="time" />
        <TextField control={control} name="night_to_min" label="Cheap until" type="time" />
      </div>
      <h3 className="mt-2 font-bold">When you are at home and awake</h3>
      <div className="grid grid-cols-2 gap-3">
        <TextField control={control} name="home_weekdays" label="Monday to Friday" hint="7-8:30, 17-23" />
        <TextField control={control} name="home_weekends" label="At weekends" hint="8:30-23" />
      </div>
      <p className="text-sm text-muted">
        Timers, turning over and weighing are planned for these hours. Leave both empty if somebody is always
        there.
      </p>
      <PickField
        control={control}
        name="watch_first_h"
        label="A material’s first run in a dryer is watched for"
        options={[...new Set([0, 1, 2, 4, 8, Number(preferences.watch_first_h)])]
          .sort((a, b) => a - b)
          .map((hours) => ({ value: hours, name: hours === 0 ? "no time" : `${hours} h` }))}
        hint="The schedule starts it while somebody is there. Ovens and lamps are never left alone."
      />
      <PickField
        control={control}
        name="years_back"
        label="Oldest time that may be entered"
        options={[...new Set([2, 5, 10, 30, preferences.years_back])].sort((a, b) => a - b).map(yearsAgo)}
        hint="Anything older is treated as a typo."
      />
      <PickField
        control={control}
        name="thin_after_days"
        label="Keep every reading of a device for"
        options={[...new Set([30, 90, 365, preferences.thin_after_days])]
          .filter((days) => days > 0)
          .sort((a, b) => a - b)
          .map((days) => ({ value: days, name: `${days} days` }))
          .concat({ value: 0, name: "ever" })}
        hint="After that, one every ten minutes is kept. Readings during a run are all kept."
      />
      {!me?.open && (
        <TextField
          control={control}
          name="name"
          label="Your name in the history"
          maxLength={LONGEST_NAME}
          hint="Kept in this browser."
        />
      )}
      <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
        Save
      </Button>
    </Slip>
  );
}

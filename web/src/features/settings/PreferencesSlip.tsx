import { Button } from "@headlessui/react";
import { useState } from "react";
import { type Preferences } from "../../api/client";
import { useSetPreferences } from "./acts";
import { fieldToMinute, minuteToField } from "../../domain/times";
import { Choice } from "../../components/Choice";
import { Field } from "../../components/Field";
import { Slip } from "../../components/Slip";
import { primary } from "../../components/classes";
import { useShell } from "../../components/shell";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

const asText = (rate: number | string | null): string => (rate === null ? "" : String(rate));
const orNull = (text: string): string | null => (text.trim() === "" ? null : text);

/** Units, clock, currency and tariff. Everything is stored in °C, g and mm; this is how it is shown. */
export function PreferencesSlip({ preferences, onClose }: { preferences: Preferences; onClose: () => void }) {
  const { notify } = useShell();
  const set = useSetPreferences();
  const [units, setUnits] = useState({
    temp_unit: preferences.temp_unit,
    mass_unit: preferences.mass_unit,
    length_unit: preferences.length_unit,
    clock: preferences.clock,
  });
  const [tariff, setTariff] = useState({
    currency: preferences.currency,
    day_rate: asText(preferences.day_rate),
    night_rate: asText(preferences.night_rate),
    from: minuteToField(preferences.night_from_min),
    to: minuteToField(preferences.night_to_min),
  });
  const { refused, of } = refusal(set.error);
  const write = (name: keyof typeof tariff) => (text: string) => {
    setTariff({ ...tariff, [name]: text });
    set.reset();
  };

  function keep() {
    set.mutate(
      {
        ...units,
        currency: tariff.currency,
        day_rate: orNull(tariff.day_rate),
        night_rate: orNull(tariff.night_rate),
        night_from_min: fieldToMinute(tariff.from) ?? 0,
        night_to_min: fieldToMinute(tariff.to) ?? 0,
      },
      {
        onSuccess: ({ undo }) => {
          onClose();
          notify({ text: "Saved units and tariff.", undo });
        },
      },
    );
  }

  return (
    <Slip title="Units, clock, tariff" onClose={onClose} onSubmit={keep}>
      <div className="grid grid-cols-2 gap-3">
        <Choice
          label="Temperature"
          across
          value={units.temp_unit}
          options={[
            { value: "C", name: "°C" },
            { value: "F", name: "°F" },
          ]}
          onChoose={(temp_unit) => {
            setUnits({ ...units, temp_unit });
          }}
        />
        <Choice
          label="Mass"
          across
          value={units.mass_unit}
          options={[
            { value: "g", name: "g" },
            { value: "oz", name: "oz" },
          ]}
          onChoose={(mass_unit) => {
            setUnits({ ...units, mass_unit });
          }}
        />
        <Choice
          label="Length"
          across
          value={units.length_unit}
          options={[
            { value: "m", name: "m, mm" },
            { value: "ft", name: "ft, in" },
          ]}
          onChoose={(length_unit) => {
            setUnits({ ...units, length_unit });
          }}
        />
        <Choice
          label="Clock"
          across
          value={units.clock}
          options={[
            { value: "24", name: "24 h" },
            { value: "12", name: "am, pm" },
          ]}
          onChoose={(clock) => {
            setUnits({ ...units, clock });
          }}
        />
      </div>
      <h3 className="mt-2 font-bold">What a kilowatt-hour costs</h3>
      <div className="grid grid-cols-3 gap-3">
        <Field
          label="Currency"
          value={tariff.currency}
          maxLength={8}
          error={of("currency")}
          onText={write("currency")}
        />
        <Field
          label="By day"
          inputMode="decimal"
          value={tariff.day_rate}
          error={of("day_rate")}
          onText={write("day_rate")}
        />
        <Field
          label="Cheap hours"
          inputMode="decimal"
          value={tariff.night_rate}
          error={of("night_rate")}
          onText={write("night_rate")}
        />
      </div>
      <div className="grid grid-cols-2 gap-3">
        <Field
          label="Cheap from"
          type="time"
          value={tariff.from}
          error={of("night_from_min")}
          onText={write("from")}
        />
        <Field
          label="Cheap until"
          type="time"
          value={tariff.to}
          error={of("night_to_min")}
          onText={write("to")}
        />
      </div>
      {refused && !["currency", "day_rate", "night_rate"].includes(refused.field ?? "") && (
        <Alert>{refused.message}</Alert>
      )}
      <Button type="submit" className={`${primary} justify-center`} disabled={set.isPending}>
        Save
      </Button>
    </Slip>
  );
}

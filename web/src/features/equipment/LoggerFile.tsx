import { useState } from "react";
import { ApiError, type Device, type FileLayout, type LookedFile } from "../../api/client";
import { useImportFile, useLookIntoFile } from "./acts";
import { degrees } from "../../domain/numbers";
import { when, zone } from "../../domain/times";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { Slip } from "../../components/Slip";
import { Alert } from "../../components/Alert";

const MEANINGS: Record<FileLayout["columns"][number]["meaning"], string> = {
  moment: "date and time",
  date: "date",
  clock: "clock time",
  temp_c: "temperature",
  rh_pct: "relative humidity",
  mass_g: "mass",
  energy_kwh: "energy",
  nothing: "left out",
};
const VALUES = ["temp_c", "rh_pct", "mass_g", "energy_kwh"] as const;
const VALUE_UNITS = { temp_c: "°C", rh_pct: "%", mass_g: "g", energy_kwh: "kWh" };
const TIME_FORMATS: { value: FileLayout["time_format"]; name: string }[] = [
  { value: "iso", name: "year first" },
  { value: "day first", name: "day first" },
  { value: "month first", name: "month first" },
  { value: "seconds", name: "seconds since 1970" },
  { value: "milliseconds", name: "milliseconds since 1970" },
];

/** Read a logger's file: what its columns mean is guessed and shown; nothing is stored before the person says so. */
export function LoggerFile({ devices, onClose }: { devices: Device[]; onClose: () => void }) {
  const { notify } = useShell();
  const look = useLookIntoFile();
  const store = useImportFile();
  const able = devices.filter(
    (device) => device.kind === "logger" || device.kind === "meter" || device.kind === "scale",
  );
  const [file, setFile] = useState<File | null>(null);
  const [device, setDevice] = useState(able[0]?.id ?? 0);
  const failed = look.error ?? store.error;
  const looked = look.data;

  const lookAgain = (table: File, layout: FileLayout | null) => {
    store.reset();
    look.mutate({ file: table, zone, layout });
  };

  return (
    <Slip
      wide
      title="Read a logger’s file"
      onClose={onClose}
      onSubmit={() => {
        if (!file || !looked) return;
        store.mutate(
          { file, zone, layout: looked.layout, device },
          {
            onSuccess: ({ stored, known, undo }) => {
              onClose();
              const there = known > 0 ? `; ${known} were there already` : "";
              notify({ text: `Stored ${stored} rows of ${file.name}${there}.`, undo });
            },
          },
        );
      }}
    >
      <label className="flex flex-col gap-1">
        <span className="text-sm text-muted">Table as text (CSV), up to 20 MB</span>
        <input
          type="file"
          accept=".csv,.txt,.tsv,text/*"
          className="border-2 border-line bg-paper p-2"
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            if (!chosen) return;
            setFile(chosen);
            lookAgain(chosen, null);
          }}
        />
      </label>
      {look.isPending && <p role="status">Reading the file …</p>}
      {failed && <Alert>{failed instanceof ApiError ? failed.message : "The file could not be read."}</Alert>}
      {looked && file && (
        <>
          <Shown
            looked={looked}
            onLayout={(layout) => {
              lookAgain(file, layout);
            }}
          />
          {able.length === 0 ? (
            <p className="font-bold">
              Add the logger as a device first; its readings are kept under its name.
            </p>
          ) : (
            <Picker
              label="They are readings of"
              value={device}
              options={able.map((row) => ({ value: row.id, name: row.name }))}
              onChoose={setDevice}
            />
          )}
          <Button
            type="submit"
            kind="primary"
            className="justify-center"
            disabled={store.isPending || looked.count === 0 || able.length === 0}
          >
            {store.isPending ? "Storing …" : `Store ${looked.count} rows`}
          </Button>
        </>
      )}
    </Slip>
  );
}

/** What the file would give, and what each column is taken for. */
function Shown({ looked, onLayout }: { looked: LookedFile; onLayout: (layout: FileLayout) => void }) {
  const { layout } = looked;
  const values = VALUES.filter((name) => layout.columns.some((column) => column.meaning === name));
  const change = (at: number, more: Partial<FileLayout["columns"][number]>) => {
    onLayout({
      ...layout,
      columns: layout.columns.map((column, index) => (index === at ? { ...column, ...more } : column)),
    });
  };
  const now = new Date();
  return (
    <>
      <p className="text-lg font-bold">
        {looked.count} rows
        {looked.first && looked.last
          ? `, ${when(new Date(looked.first), now)} to ${when(new Date(looked.last), now)}`
          : ""}
        {looked.bad_count > 0 && `; ${looked.bad_count} set aside`}
      </p>
      <div className="grid gap-2 sm:grid-cols-2">
        {layout.columns.map((column, at) => (
          <div key={at} className="grid grid-cols-[1fr_6rem] gap-2">
            <Picker
              label={column.head || `column ${at + 1}`}
              value={column.meaning}
              options={Object.entries(MEANINGS).map(([value, name]) => ({
                value: value as typeof column.meaning,
                name,
              }))}
              onChoose={(meaning) => {
                change(at, { meaning, unit: looked.units[meaning]?.[0] ?? "" });
              }}
            />
            {looked.units[column.meaning] && (
              <Picker
                label="in"
                value={column.unit}
                options={(looked.units[column.meaning] ?? []).map((unit) => ({ value: unit, name: unit }))}
                onChoose={(unit) => {
                  change(at, { unit });
                }}
              />
            )}
          </div>
        ))}
      </div>
      <div className="grid gap-2 sm:grid-cols-2">
        <Picker
          label="Dates are written"
          value={layout.time_format}
          options={TIME_FORMATS}
          onChoose={(time_format) => {
            onLayout({ ...layout, time_format });
          }}
        />
        <Zone
          zone={layout.zone}
          onZone={(zone) => {
            onLayout({ ...layout, zone });
          }}
        />
      </div>
      <table className="w-full border-collapse text-sm">
        <thead>
          <tr className="border-b-2 border-line text-left text-muted">
            <th className="font-normal">line</th>
            <th className="font-normal">when, by your clock</th>
            {values.map((name) => (
              <th key={name} className="text-right font-normal">
                {MEANINGS[name]}, {VALUE_UNITS[name]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody className="num">
          {looked.rows.slice(0, 5).map((row) => (
            <tr key={row.line} className="border-b border-line">
              <td>{row.line}</td>
              <td>{new Date(row.at).toLocaleString("en-GB")}</td>
              {values.map((name) => (
                <td key={name} className="text-right">
                  {row.values[name] === undefined ? "" : degrees(row.values[name])}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {looked.bad.length > 0 && (
        <details>
          <summary className="cursor-pointer font-bold">{looked.bad_count} rows set aside</summary>
          <ul className="text-sm">
            {looked.bad.map((row) => (
              <li key={row.line}>
                line {row.line}: {row.why}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

function Zone({ zone, onZone }: { zone: string; onZone: (zone: string) => void }) {
  const [typed, setTyped] = useState(zone);
  return (
    <Field
      label="Time zone of times without one"
      value={typed}
      onText={setTyped}
      onBlur={() => {
        if (typed !== zone) onZone(typed.trim());
      }}
    />
  );
}

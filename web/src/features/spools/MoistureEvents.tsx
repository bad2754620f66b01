import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { type SpoolFacts } from "../../api/client";
import { useCorrectStay, useRemoveStay } from "./acts";
import { places as placesQuery } from "../storage/queries";
import { hours, percent, scaleDecimals } from "../../domain/numbers";
import { mass, temp } from "../../domain/quantities";
import { toLocalField, when, withSeconds } from "../../domain/times";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { link } from "../../components/classes";
import { PLACE_WORDS } from "../storage/words";
import { MendWeighing, type Weighed } from "../weighing/MendWeighing";
import { MoistureSlip, UseSlip } from "./SpoolSlips";
import { BASIS_WORDS, moistureWords } from "./words";
import { PickField, TextField } from "../../forms/fields";
import { maybeMoment, moment } from "../../forms/shape";
import { SaveOrRemove } from "../../forms/SaveOrRemove";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

type StayRow = SpoolFacts["stays"][number];

interface Line {
  key: string;
  at: string;
  text: string;
  to?: string;
  /** What can be put right of it. */
  mend?: Mend;
}

type Mend =
  | { kind: "stay"; stay: StayRow }
  | { kind: "moisture"; reading: SpoolFacts["moisture_readings"][number] }
  | { kind: "use"; use: SpoolFacts["uses"][number] }
  | { kind: "weighing"; weighing: Weighed };

function weighedWords(weighing: Weighed, page: SpoolFacts): string {
  const gross = mass(weighing.gross_g, scaleDecimals(weighing.resolution_g));
  if (weighing.doubtful) return `weighed ${gross}: doubtful, counts for nothing`;
  if (weighing.weighed_object === "coil") return `a coil of it weighed ${gross}`;
  const point = page.traced.weighed.find(({ at }) => at === weighing.at);
  return `weighed ${gross}${point ? `: ${percent(point.moisture_pct)} % of water by then` : ""}`;
}

function linesOf(page: SpoolFacts, now: Date): Line[] {
  const lines: Line[] = [
    ...page.moisture_readings.map((reading) => ({
      key: `mark ${reading.id}`,
      at: reading.at,
      text: `${BASIS_WORDS[reading.basis]}: ${moistureWords(reading.moisture_pct, reading.sd_pct)} of water`,
      mend: { kind: "moisture" as const, reading },
    })),
    ...page.stays.map((stay) => ({
      key: `stay ${stay.id}`,
      at: stay.since,
      text: `to ${stay.place_name} (${PLACE_WORDS[stay.place_kind]})${stay.until ? `, until ${when(new Date(stay.until), now)}` : ""}`,
      mend: { kind: "stay" as const, stay },
    })),
    ...page.traced.runs.map((run) => ({
      key: `run ${run.id}`,
      at: run.started_at,
      text: `dried in ${run.dryer_name}, ${temp(run.temp_c)} for ${hours(run.duration_h)}`,
      to: `/runs/${run.id}`,
    })),
    ...page.weighings.map((weighing) => ({
      key: `weighing ${weighing.id}`,
      at: weighing.at,
      text: weighedWords(weighing, page),
      mend: { kind: "weighing" as const, weighing },
    })),
    ...page.uses.map((use) => ({
      key: `use ${use.id}`,
      at: use.at,
      text: `printed ${mass(use.mass_g, 0)}${use.note ? `: ${use.note}` : ""}`,
      mend: { kind: "use" as const, use },
    })),
  ];
  return lines.sort((a, b) => (a.at < b.at ? 1 : -1));
}

/** What happened to it, newest first; all of it can be put right. */
export function MoistureEvents({ page, now }: { page: SpoolFacts; now: Date }) {
  const [open, setOpen] = useState<Mend | null>(null);
  const { spool } = page.traced.lane;
  const close = () => {
    setOpen(null);
  };
  return (
    <section aria-label="Moisture history" className="mt-5">
      <h2>Moisture history</h2>
      <ul className="text-sm">
        {linesOf(page, now).map((line) => (
          <li key={line.key} className="flex gap-3 border-b border-line py-1">
            <span className="w-28 shrink-0 num text-muted">{when(new Date(line.at), now)}</span>
            <span className="grow">
              {line.to ? (
                <Link to={line.to} className={link}>
                  {line.text}
                </Link>
              ) : (
                line.text
              )}
            </span>
            {line.mend && (
              <Button
                kind="link"
                className="text-muted"
                aria-label={`Correct: ${line.text}`}
                onClick={() => {
                  setOpen(line.mend ?? null);
                }}
              >
                correct
              </Button>
            )}
          </li>
        ))}
      </ul>
      {open?.kind === "stay" && <StaySlip stay={open.stay} onClose={close} />}
      {open?.kind === "moisture" && <MoistureSlip spool={spool} reading={open.reading} onClose={close} />}
      {open?.kind === "use" && <UseSlip spool={spool} use={open.use} onClose={close} />}
      {open?.kind === "weighing" && <MendWeighing seen={open.weighing} onClose={close} />}
    </section>
  );
}

const SHAPE = z.object({ place: z.number(), since: moment, until: maybeMoment });

function StaySlip({ stay, onClose }: { stay: StayRow; onClose: () => void }) {
  const { notify } = useShell();
  const { data: places = [] } = useQuery(placesQuery);
  const correct = useCorrectStay();
  const remove = useRemoveStay();
  const form = useActForm(SHAPE, {
    place: stay.place,
    since: toLocalField(new Date(stay.since)),
    until: stay.until ? toLocalField(new Date(stay.until)) : "",
  });
  const { control } = form;
  const done = (text: string, undo: number | null) => {
    onClose();
    notify({ text, undo });
  };
  const submit = form.submit(async ({ place, since, until }) => {
    const body = { place, since: withSeconds(since, stay.since), until: withSeconds(until, stay.until) };
    const { undo } = await correct.mutateAsync({ id: stay.id, body });
    done("Corrected the stay; the moisture is recomputed.", undo);
  });
  return (
    <Slip title="Correct this stay" problem={form.problem} onClose={onClose} onSubmit={submit}>
      <PickField
        control={control}
        name="place"
        label="It stood in"
        options={places.map((place) => ({ value: place.id, name: place.name }))}
      />
      <TextField control={control} name="since" label="From" type="datetime-local" />
      <TextField
        control={control}
        name="until"
        label="Until (empty: it still stands there)"
        type="datetime-local"
      />
      <SaveOrRemove
        busy={form.busy}
        removal={{
          act: remove,
          id: stay.id,
          label: "it never stood there",
          onRemoved: (undo) => {
            done("Removed the stay.", undo);
          },
          onRefused: form.refuse,
        }}
      />
    </Slip>
  );
}

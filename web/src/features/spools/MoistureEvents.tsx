import { Button } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { type SpoolFacts } from "../../api/client";
import { useCorrectStay, useRemoveStay } from "./acts";
import { places as placesQuery } from "../storage/queries";
import { hours, percent } from "../../domain/numbers";
import { mass, temp } from "../../domain/quantities";
import { fromLocalField, toLocalField, when } from "../../domain/times";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { Slip } from "../../components/Slip";
import { link, primary } from "../../components/classes";
import { PLACE_WORDS } from "../storage/words";
import { BASIS_WORDS, moistureWords } from "./words";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

type StayRow = SpoolFacts["stays"][number];

interface Line {
  key: string;
  at: string;
  text: string;
  to?: string;
  stay?: StayRow;
}

function linesOf(page: SpoolFacts, now: Date): Line[] {
  const lines: Line[] = [
    ...page.moisture_readings.map((it) => ({
      key: `mark ${it.id}`,
      at: it.at,
      text: `${BASIS_WORDS[it.basis]}: ${moistureWords(it.moisture_pct, it.sd_pct)} of water`,
    })),
    ...page.stays.map((it) => ({
      key: `stay ${it.id}`,
      at: it.since,
      text: `to ${it.place_name} (${PLACE_WORDS[it.place_kind]})${it.until ? `, until ${when(new Date(it.until), now)}` : ""}`,
      stay: it,
    })),
    ...page.traced.runs.map((it) => ({
      key: `run ${it.id}`,
      at: it.started_at,
      text: `dried in ${it.dryer_name}, ${temp(it.temp_c)} for ${hours(it.duration_h)}`,
      to: `/runs/${it.id}`,
    })),
    ...page.traced.weighed.map((it) => ({
      key: `weighed ${it.at}`,
      at: it.at,
      text: `weighed: ${percent(it.moisture_pct)} % of water by then`,
    })),
    ...page.uses.map((it) => ({
      key: `use ${it.id}`,
      at: it.at,
      text: `printed ${mass(it.mass_g, 0)}${it.note ? `: ${it.note}` : ""}`,
    })),
  ];
  return lines.sort((a, b) => (a.at < b.at ? 1 : -1));
}

/** What happened to it, newest first; stays can be corrected. */
export function MoistureEvents({ page, now }: { page: SpoolFacts; now: Date }) {
  const [open, setOpen] = useState<StayRow | null>(null);
  return (
    <section aria-label="Moisture history" className="mt-5">
      <h2>Moisture history</h2>
      <ul className="text-sm">
        {linesOf(page, now).map((it) => (
          <li key={it.key} className="flex gap-3 border-b border-line py-1">
            <span className="w-28 shrink-0 num text-muted">{when(new Date(it.at), now)}</span>
            <span className="grow">
              {it.to ? (
                <Link to={it.to} className={link}>
                  {it.text}
                </Link>
              ) : (
                it.text
              )}
            </span>
            {it.stay && (
              <Button
                className={`${link} text-muted`}
                aria-label={`Correct the stay in ${it.stay.place_name}`}
                onClick={() => {
                  setOpen(it.stay ?? null);
                }}
              >
                correct
              </Button>
            )}
          </li>
        ))}
      </ul>
      {open && (
        <StaySlip
          stay={open}
          onClose={() => {
            setOpen(null);
          }}
        />
      )}
    </section>
  );
}

function StaySlip({ stay, onClose }: { stay: StayRow; onClose: () => void }) {
  const { notify } = useShell();
  const { data: places = [] } = useQuery(placesQuery);
  const correct = useCorrectStay();
  const remove = useRemoveStay();
  const [place, setPlace] = useState(stay.place);
  const [since, setSince] = useState(toLocalField(new Date(stay.since)));
  const [until, setUntil] = useState(stay.until ? toLocalField(new Date(stay.until)) : "");
  const failed = correct.error ?? remove.error;
  const { refused, of } = refusal(failed);
  const done = (text: string) => ({
    onSuccess: ({ undo }: { undo: number | null }) => {
      onClose();
      notify({ text, undo });
    },
  });
  // An end or beginning that was not touched keeps its seconds.
  const kept = (text: string, was: string | null) =>
    was !== null && text === toLocalField(new Date(was)) ? was : fromLocalField(text);
  return (
    <Slip
      title="Correct this stay"
      onClose={onClose}
      onSubmit={() => {
        correct.mutate(
          {
            id: stay.id,
            body: { place, since: kept(since, stay.since) ?? "", until: kept(until, stay.until) },
          },
          done("Stay corrected; the moisture was recomputed."),
        );
      }}
    >
      <Picker
        label="It stood in"
        value={place}
        options={places.map((it) => ({ value: it.id, name: it.name }))}
        onChoose={setPlace}
      />
      <Field label="From" type="datetime-local" value={since} error={of("since")} onText={setSince} />
      <Field
        label="Until (empty: it still stands there)"
        type="datetime-local"
        value={until}
        error={of("until")}
        onText={setUntil}
      />
      {refused && !["since", "until"].includes(refused.field ?? "") && <Alert>{refused.message}</Alert>}
      <div className="flex items-center gap-4">
        <Button type="submit" className={primary} disabled={correct.isPending}>
          Save
        </Button>
        <Button
          type="button"
          className={link}
          onClick={() => {
            remove.mutate(stay.id, done("Took the stay out."));
          }}
        >
          it never stood there
        </Button>
      </div>
    </Slip>
  );
}

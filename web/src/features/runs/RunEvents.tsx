import { Button } from "@headlessui/react";
import { useState } from "react";
import { type RunEvent, type RunSheet } from "../../api/client";
import { useNoteEnergy, useNoteEvent, useRemoveEvent } from "./acts";
import { hours } from "../../domain/numbers";
import { later, when } from "../../domain/times";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { Slip } from "../../components/Slip";
import { RemoveButton } from "../../components/RemoveButton";
import { link, primary, quiet } from "../../components/classes";
import { NotifyMe } from "./NotifyMe";
import { EVENT_WORDS } from "./words";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

/** What is left to do, what happened, and the keys to say so. */
export function RunEvents({ sheet, now }: { sheet: RunSheet; now: Date }) {
  const running = sheet.run.ended_at === null;
  return (
    <section aria-label="What happens">
      {running && <LeftToDo sheet={sheet} now={now} />}
      {running && <EventKeys sheet={sheet} />}
      <Happened sheet={sheet} now={now} />
    </section>
  );
}

const SLACK_H = 0.05;

function LeftToDo({ sheet, now }: { sheet: RunSheet; now: Date }) {
  const { run, verdict, now_h, end_h, events } = sheet;
  const turn = run.turn_over_h;
  const turned = events.some((it) => it.kind === "turned");
  const todo: [number, string][] = [
    ...(turned || turn < now_h - 1 ? [] : [[turn, "turn the spool over"] as [number, string]]),
    ...(verdict.next_weigh_h === null ? [] : [[verdict.next_weigh_h, "weigh"] as [number, string]]),
    [end_h, "planned end: weigh it and put it away dry while still warm"],
  ];
  return (
    <>
      <h2>Left to do</h2>
      <ul className="mb-1 text-sm">
        {todo
          .sort(([a], [b]) => a - b)
          .map(([at, what]) => (
            <li key={what} className="flex gap-3 border-b border-line py-1">
              <span className={`num ${at < now_h - SLACK_H ? "font-bold text-heat" : ""}`}>
                {when(later(new Date(run.started_at), at), now)}
              </span>
              <span>
                {what}
                {at < now_h - SLACK_H && `, ${hours(now_h - at)} ago`}
              </span>
            </li>
          ))}
      </ul>
      <NotifyMe />
    </>
  );
}

function EventKeys({ sheet }: { sheet: RunSheet }) {
  const { notify } = useShell();
  const note = useNoteEvent();
  const [asking, setAsking] = useState(false);
  const add = (kind: RunEvent["kind"]) => {
    note.mutate(
      { run: sheet.run.id, body: { kind, note: "" } },
      {
        onSuccess: ({ undo }) => {
          notify({ text: `Noted: ${EVENT_WORDS[kind]}.`, undo });
        },
      },
    );
  };
  const keys: [RunEvent["kind"], string][] = [
    ["lid", "Lid opened"],
    ["turned", "Turned"],
    sheet.paused ? ["resumed", "Resume"] : ["paused", "Pause"],
  ];
  return (
    <div className="mb-3 flex flex-wrap items-center gap-2 print:hidden">
      {keys.map(([kind, name]) => (
        <Button
          key={kind}
          className={`${quiet} text-sm`}
          disabled={note.isPending}
          onClick={() => {
            add(kind);
          }}
        >
          {name}
        </Button>
      ))}
      <Button
        className={`${link} text-sm`}
        onClick={() => {
          setAsking(true);
        }}
      >
        more …
      </Button>
      {note.error && !asking && <Alert>{note.error.message}</Alert>}
      {asking && (
        <EventSlip
          sheet={sheet}
          onClose={() => {
            setAsking(false);
          }}
        />
      )}
    </div>
  );
}

const ASKED: readonly RunEvent["kind"][] = ["timer", "power_cut", "desiccant", "sensor", "other"];

function EventSlip({ sheet, onClose }: { sheet: RunSheet; onClose: () => void }) {
  const { notify } = useShell();
  const event = useNoteEvent();
  const energy = useNoteEnergy();
  const { run } = sheet;
  const [kind, setKind] = useState<RunEvent["kind"]>("timer");
  const [minutes, setMinutes] = useState("");
  const [note, setNote] = useState("");
  const [began, setBegan] = useState(run.energy_start_kwh === null ? "" : String(run.energy_start_kwh));
  const [ended, setEnded] = useState(run.energy_end_kwh === null ? "" : String(run.energy_end_kwh));
  const failed = event.error ?? energy.error;
  const { of } = refusal(failed);
  const kept = (text: string) => ({
    onSuccess: ({ undo }: { undo: number | null }) => {
      onClose();
      notify({ text, undo });
    },
  });
  return (
    <Slip
      title={`Note for ${run.spool.name}`}
      onClose={onClose}
      onSubmit={() => {
        const body = { kind, minutes: minutes.trim() === "" ? null : minutes, note };
        event.mutate({ run: run.id, body }, kept(`Noted: ${EVENT_WORDS[kind]}.`));
      }}
    >
      <Picker
        label="What happened"
        value={kind}
        options={ASKED.map((it) => ({ value: it, name: EVENT_WORDS[it] }))}
        onChoose={setKind}
      />
      <Field
        label="For how long"
        unit="min"
        inputMode="decimal"
        value={minutes}
        error={of("minutes")}
        onText={setMinutes}
      />
      <Field label="Note" value={note} maxLength={200} error={of("note")} onText={setNote} />
      <Button type="submit" className={`${primary} self-start`} disabled={event.isPending}>
        Note it
      </Button>
      <fieldset className="mt-2 border-t border-line pt-2">
        <legend className="font-bold">The energy meter</legend>
        <div className="grid grid-cols-2 gap-2">
          <Field
            label="At the start"
            unit="kWh"
            inputMode="decimal"
            value={began}
            error={of("start_kwh")}
            onText={setBegan}
          />
          <Field
            label="Now"
            unit="kWh"
            inputMode="decimal"
            value={ended}
            error={of("end_kwh")}
            onText={setEnded}
          />
        </div>
        <Button
          className={`${quiet} mt-2 text-sm`}
          disabled={energy.isPending}
          onClick={() => {
            const body = { start_kwh: began.trim() || null, end_kwh: ended.trim() || null };
            energy.mutate({ run: run.id, body }, kept("Read the meter."));
          }}
        >
          Save the readings
        </Button>
      </fieldset>
    </Slip>
  );
}

function Happened({ sheet, now }: { sheet: RunSheet; now: Date }) {
  const remove = useRemoveEvent();
  if (sheet.events.length === 0) return null;
  return (
    <>
      <h2>Happened</h2>
      <ul className="text-sm">
        {sheet.events.map((it) => (
          <li key={it.id} className="flex gap-3 border-b border-line py-1">
            <span className="num">{when(new Date(it.at), now)}</span>
            <span className="grow">
              {EVENT_WORDS[it.kind]}
              {it.minutes !== null && `, ${hours(it.minutes / 60)}`}
              {it.note && `: ${it.note}`}
            </span>
            <RemoveButton
              removal={remove}
              id={it.id}
              label={`Remove ${EVENT_WORDS[it.kind]}`}
              done={`Removed: ${EVENT_WORDS[it.kind]}.`}
              className="text-muted print:hidden"
            />
          </li>
        ))}
      </ul>
    </>
  );
}

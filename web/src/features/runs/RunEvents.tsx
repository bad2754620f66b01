import { useState } from "react";
import { type RunEvent, type RunSheet } from "../../api/client";
import { useNoteEnergy, useNoteEvent, useRemoveEvent } from "./acts";
import { hours } from "../../domain/numbers";
import { temp } from "../../domain/quantities";
import { later, when } from "../../domain/times";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { RemoveButton } from "../../components/RemoveButton";
import { ChangeSlip } from "./ChangeSlip";
import { NotifyMe } from "./NotifyMe";
import { EVENT_WORDS } from "./words";
import { Alert } from "../../components/Alert";
import { shownIn } from "../../domain/measures";
import { NumberField, PickField, TextField } from "../../forms/fields";
import { maybeQuantity, maybeWords } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

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

/** What is noted as it happens; a changed plan is an act of its own. */
type Noted = Exclude<RunEvent["kind"], "changed">;

function LeftToDo({ sheet, now }: { sheet: RunSheet; now: Date }) {
  const { run, verdict, now_h, end_h, events } = sheet;
  const turn = run.turn_over_h;
  const turned = events.some((event) => event.kind === "turned");
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
  const [changing, setChanging] = useState(false);
  const add = (kind: Noted) => {
    note.mutate(
      { run: sheet.run.id, body: { kind, note: "" } },
      {
        onSuccess: ({ undo }) => {
          notify({ text: `Noted: ${EVENT_WORDS[kind]}.`, undo });
        },
      },
    );
  };
  const keys: [Noted, string][] = [
    ["lid", "Lid opened"],
    ["turned", "Turned"],
    sheet.paused ? ["resumed", "Resume"] : ["paused", "Pause"],
  ];
  return (
    <div className="mb-3 flex flex-wrap items-center gap-2 print:hidden">
      {keys.map(([kind, name]) => (
        <Button
          key={kind}
          kind="quiet"
          className="text-sm"
          disabled={note.isPending}
          onClick={() => {
            add(kind);
          }}
        >
          {name}
        </Button>
      ))}
      <Button
        kind="link"
        className="text-sm"
        onClick={() => {
          setAsking(true);
        }}
      >
        more …
      </Button>
      <Button
        kind="link"
        className="text-sm"
        onClick={() => {
          setChanging(true);
        }}
      >
        longer, hotter …
      </Button>
      {changing && (
        <ChangeSlip
          run={sheet.run}
          onClose={() => {
            setChanging(false);
          }}
        />
      )}
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

const ASKED: readonly Noted[] = ["timer", "power_cut", "desiccant", "sensor", "other"];

const EVENT = z.object({
  kind: z.custom<Noted>(),
  minutes: maybeQuantity("plain", "how long it took", 20),
  note: maybeWords,
});
const METER = z.object({
  start_kwh: maybeQuantity("plain", "the meter’s reading", 12.4),
  end_kwh: maybeQuantity("plain", "the meter’s reading", 12.9),
});

interface NoteProps {
  run: RunSheet["run"];
  onKept: (text: string, undo: number | null) => void;
}

function EventSlip({ sheet, onClose }: { sheet: RunSheet; onClose: () => void }) {
  const { notify } = useShell();
  const event = useNoteEvent();
  const { run } = sheet;
  const form = useActForm(EVENT, { kind: "timer", minutes: "", note: "" });
  const { control } = form;
  const kept = (text: string, undo: number | null) => {
    onClose();
    notify({ text, undo });
  };
  const submit = form.submit(async (body) => {
    const { undo } = await event.mutateAsync({ run: run.id, body });
    kept(`Noted: ${EVENT_WORDS[body.kind]}.`, undo);
  });
  return (
    <Slip title={`Note for ${run.spool.name}`} problem={form.problem} onClose={onClose} onSubmit={submit}>
      <PickField
        control={control}
        name="kind"
        label="What happened"
        options={ASKED.map((kind) => ({ value: kind, name: EVENT_WORDS[kind] }))}
      />
      <NumberField control={control} name="minutes" label="For how long" unit="min" />
      <TextField control={control} name="note" label="Note" maxLength={200} />
      <Button kind="primary" type="submit" className="self-start" disabled={form.busy}>
        Note it
      </Button>
      <Meter run={run} onKept={kept} />
    </Slip>
  );
}

function Meter({ run, onKept }: NoteProps) {
  const energy = useNoteEnergy();
  const form = useActForm(METER, {
    start_kwh: shownIn("plain", run.energy_start_kwh),
    end_kwh: shownIn("plain", run.energy_end_kwh),
  });
  const { control } = form;
  const save = form.submit(async (body) => {
    const { undo } = await energy.mutateAsync({ run: run.id, body });
    onKept("Read the meter.", undo);
  });
  return (
    <fieldset className="mt-2 border-t border-line pt-2">
      <legend className="font-bold">The energy meter</legend>
      <div className="grid grid-cols-2 gap-2">
        <NumberField control={control} name="start_kwh" label="At the start" unit="kWh" />
        <NumberField control={control} name="end_kwh" label="Now" unit="kWh" />
      </div>
      {form.problem !== undefined && <Alert>{form.problem}</Alert>}
      <Button kind="quiet" className="mt-2 text-sm" disabled={form.busy} onClick={save}>
        Save the readings
      </Button>
    </fieldset>
  );
}

function Happened({ sheet, now }: { sheet: RunSheet; now: Date }) {
  const remove = useRemoveEvent();
  if (sheet.events.length === 0) return null;
  return (
    <>
      <h2>Happened</h2>
      <ul className="text-sm">
        {sheet.events.map((event) => (
          <li key={event.id} className="flex gap-3 border-b border-line py-1">
            <span className="num">{when(new Date(event.at), now)}</span>
            <span className="grow">
              {EVENT_WORDS[event.kind]}
              {event.minutes !== null && `, ${hours(event.minutes / 60)}`}
              {event.temp_c !== null && `, ${temp(event.temp_c)}`}
              {event.duration_h !== null && `, ${hours(event.duration_h)} in all`}
              {event.note && `: ${event.note}`}
            </span>
            <RemoveButton
              removal={remove}
              id={event.id}
              label={`Remove ${EVENT_WORDS[event.kind]}`}
              done={`Removed: ${EVENT_WORDS[event.kind]}.`}
              className="text-muted print:hidden"
            />
          </li>
        ))}
      </ul>
    </>
  );
}

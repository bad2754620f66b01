import { useState } from "react";
import { type RunSheet } from "../../api/client";
import { useRemoveEvent } from "./acts";
import { useNote } from "./useNote";
import { hours } from "../../domain/numbers";
import { temp } from "../../domain/quantities";
import { later, when } from "../../domain/times";
import { Button } from "../../components/Button";
import { RemoveButton } from "../../components/RemoveButton";
import { ChangeSlip } from "./ChangeSlip";
import { NotifyMe } from "./NotifyMe";
import { EVENT_WORDS } from "./words";
import { Alert } from "../../components/Alert";
import { EventSlip, type Noted } from "./EventSlip";

/** What is left to do, what happened, and the keys to say so. */
export function RunEvents({ sheet, now }: { sheet: RunSheet; now: Date }) {
  const running = sheet.run.ended_at === null;
  return (
    <section aria-label="What happens">
      {running && <RanOut sheet={sheet} />}
      {running && <LeftToDo sheet={sheet} now={now} />}
      {running && <EventKeys sheet={sheet} />}
      <Happened sheet={sheet} now={now} />
    </section>
  );
}

/** The timer has run out and nobody has set it again. */
function RanOut({ sheet: { run, now_h } }: { sheet: RunSheet }) {
  const out = run.timer?.out_since_h ?? null;
  if (out === null) return null;
  return (
    <p className="mb-3 border-l-4 border-heat pl-2 text-sm">
      <strong>The heat has been off for {hours(now_h - out)}.</strong> Once the timer is set, press “Timer set
      again”. If it was set earlier, say when under “more …”.
    </p>
  );
}

const SLACK_H = 0.05;

function LeftToDo({ sheet, now }: { sheet: RunSheet; now: Date }) {
  const { run, verdict, now_h, end_h, events } = sheet;
  const turn = run.turn_over_h;
  const turned = events.some((event) => event.kind === "turned");
  const todo: [number, string][] = [
    ...(turned || turn < now_h - 1 ? [] : [[turn, "turn the spool over"] as [number, string]]),
    ...(verdict.next_weigh_h === null ? [] : [[verdict.next_weigh_h, "weigh"] as [number, string]]),
    ...(run.timer === null
      ? []
      : [[run.timer.set_at_h, `set the timer again: ${hours(run.timer.set_h)}`] as [number, string]]),
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
  const { note, busy, error } = useNote(sheet.run);
  const [asking, setAsking] = useState(false);
  const [changing, setChanging] = useState(false);
  const keys: [Noted, string][] = [
    ["lid", "Lid opened"],
    ["turned", "Turned"],
    ...(sheet.run.timer ? [["timer", "Timer set again"] as [Noted, string]] : []),
    sheet.paused ? ["resumed", "Resume"] : ["paused", "Pause"],
  ];
  return (
    <div className="mb-3 flex flex-wrap items-center gap-2 print:hidden">
      {keys.map(([kind, name]) => (
        <Button
          key={kind}
          kind="quiet"
          className="text-sm"
          disabled={busy}
          onClick={() => {
            note({ kind, note: "" }).catch(() => undefined); // what was refused is said below
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
      {error && !asking && <Alert>{error.message}</Alert>}
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
              {event.out_at !== null && `, had run out at ${when(new Date(event.out_at), now)}`}
              {event.temp_c !== null && `, ${temp(event.temp_c)}`}
              {event.duration_h !== null && `, ${hours(event.duration_h)} in all`}
              {event.note && `: ${event.note}`}
            </span>
            <RemoveButton
              removal={remove}
              id={{ id: event.id, run: sheet.run.id }}
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

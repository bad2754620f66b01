import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Schedule } from "../../api/client";
import { Button } from "../../components/Button";
import { CalendarFeed } from "./CalendarFeed";
import { panel, link, primary } from "../../components/classes";
import { fixed, hours } from "../../domain/numbers";
import { when, zone } from "../../domain/times";
import { whatIf } from "./queries";
import { bestWords, homeWords, visitWords, whatIfName, whatIfWords } from "./words";

interface Props {
  data: Schedule;
  now: Date;
  working: boolean;
  onWorkOut: () => void;
  onHours: () => void;
}

/** What it comes to, what would help, and what can be done with it. */
export function ScheduleAside({ data, now, working, onWorkOut, onHours }: Props) {
  return (
    <aside className="flex flex-col gap-4 print:hidden">
      <NextVisit data={data} now={now} />
      {data.sum && <Sum data={data} now={now} />}
      {data.what_ifs.length > 0 && (
        <section className={panel}>
          <h2 className="mb-1">What if</h2>
          <ul className="flex flex-col gap-2">
            {data.what_ifs.map((change) => (
              <WhatIfRow
                key={`${change.kind} ${change.dryer ?? ""} ${change.day ?? ""}`}
                change={change}
                data={data}
                now={now}
              />
            ))}
          </ul>
        </section>
      )}
      {data.moved.length > 0 && (
        <section className={panel}>
          <h2 className="mb-1">Moved</h2>
          <ul className="text-sm">
            {data.moved.map((one) => (
              <li key={one.spool}>
                {one.spool}: {when(new Date(one.now), now)}, was {when(new Date(one.was), now)}
              </li>
            ))}
          </ul>
        </section>
      )}
      <div className="flex flex-col items-start gap-2">
        <Button kind="quiet" disabled={working} onClick={onWorkOut}>
          Work it out again
        </Button>
        <Button kind="link" className="text-sm" onClick={onHours}>
          who is at home when
        </Button>
        <Button
          kind="link"
          className="text-sm"
          onClick={() => {
            window.print();
          }}
        >
          print it for the dryer’s door
        </Button>
        {data.feed_key !== null && data.feed_url !== null && data.visits.length > 0 && (
          <CalendarFeed feedKey={data.feed_key} url={data.feed_url} />
        )}
      </div>
    </aside>
  );
}

const SOON = 45 * 60_000;

/** What is to be done next; what is to be loaded now can be started from here. */
function NextVisit({ data, now }: { data: Schedule; now: Date }) {
  const visit = data.visits[0];
  if (!visit) return null;
  const due = Date.parse(visit.at) - now.getTime() < SOON;
  const loads = data.starts.filter((start) => start.run === null && start.starts_at === visit.at);
  return (
    <section className={panel}>
      <h2 className="mb-1">{due ? "Now" : `Next, ${when(new Date(visit.at), now)}`}</h2>
      <p className="text-sm">{visitWords(visit)}.</p>
      {due &&
        loads.map((start) => (
          <Link
            key={start.spool}
            className={`${primary} mt-2 min-h-11 w-full justify-center`}
            to={`/plan?spool=${start.spool}&dryer=${start.dryer}&temp_c=${start.temp_c}&duration_h=${start.hours}`}
          >
            Start {start.spool_name}
          </Link>
        ))}
    </section>
  );
}

function Sum({ data, now }: { data: Schedule; now: Date }) {
  const { sum } = data;
  if (!sum) return null;
  const rows: [string, string][] = [
    ["Late", sum.jobs_late === 0 ? "none" : `${sum.jobs_late}, by ${hours(sum.hours_late)}`],
    ["Visits", `${sum.visits}, all while at home`],
    [
      "Power",
      `${fixed(sum.energy_kwh, 1)} kWh${data.currency ? `, ${data.currency}${fixed(sum.cost, 2)}` : ""}`,
    ],
    ["Last end", sum.last_end === null ? "–" : when(new Date(sum.last_end), now)],
  ];
  return (
    <section className={panel}>
      <h2 className="mb-1">This schedule</h2>
      <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1 text-sm">
        {rows.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-muted">{name}</dt>
            <dd className="text-right num">{value}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-2 text-sm text-muted">{bestWords(sum)}</p>
      {data.before && (
        <p className="mt-2 text-sm">
          Against the one before: {whatIfWords(data.before, sum, data.currency)}.
        </p>
      )}
    </section>
  );
}

type Change = Schedule["what_ifs"][number];

/** One change; what it would come to is worked out when somebody asks. */
function WhatIfRow({ change, data, now }: { change: Change; data: Schedule; now: Date }) {
  const [asked, setAsked] = useState(false);
  const { kind, dryer, day } = change;
  const query = { zone, kind, ...(dryer === null ? {} : { dryer }), ...(day === null ? {} : { day }) };
  const found = useQuery({ ...whatIf(query), enabled: asked });
  const name = whatIfName(change, data, now);
  return (
    <li className="text-sm">
      <div className="flex justify-between gap-2">
        <span className="font-bold">{name}</span>
        {!asked && (
          <button
            type="button"
            className={`${link} min-h-6`}
            aria-label={`try: ${name}`}
            onClick={() => {
              setAsked(true);
            }}
          >
            try
          </button>
        )}
      </div>
      <span className="text-muted" role="status">
        {found.isFetching
          ? "working it out …"
          : found.error
            ? found.error.message
            : found.data &&
              whatIfWords(found.data.as_is, found.data.changed, data.currency) +
                homeWords(found.data.home, now)}
      </span>
    </li>
  );
}

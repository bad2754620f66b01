import type { Schedule } from "../../api/client";
import { clock, day } from "../../domain/times";
import { loadWords, visitWords } from "./words";

const dayFormat = new Intl.DateTimeFormat("en-GB", { weekday: "long", day: "numeric", month: "long" });

/** The visits day by day: on a phone in place of the picture, and on paper. */
export function VisitList({ data, now }: { data: Schedule; now: Date }) {
  const byDay = new Map<string, Schedule["visits"]>();
  for (const visit of data.visits) {
    const name = dayFormat.format(new Date(visit.at));
    byDay.set(name, [...(byDay.get(name) ?? []), visit]);
  }
  if (data.visits.length === 0) return null;
  return (
    <section className="mb-4 bg-paper p-4 sm:hidden print:block">
      <h2 className="mb-1 text-lg">Visits</h2>
      {[...byDay].map(([name, visits]) => (
        <div key={name}>
          <h3 className="mt-2 font-bold">
            {name}
            {name === dayFormat.format(now) ? ", today" : ""}
          </h3>
          <ul>
            {visits.map((visit) => (
              <li key={visit.at} className="flex gap-3 border-t border-line py-2">
                <span className="num font-bold">{clock(new Date(visit.at))}</span>
                <span>
                  {visitWords(visit)}
                  {data.starts
                    .filter((start) => start.run === null && start.starts_at === visit.at)
                    .map((start) => (
                      <span key={start.spool} className="block text-sm text-muted">
                        {loadWords(start, data)}
                      </span>
                    ))}
                </span>
              </li>
            ))}
          </ul>
        </div>
      ))}
      <p className="mt-2 hidden text-sm print:block">
        Printed {day(now)}. The first hours of a new combination are watched; ovens and lamps are never left
        alone.
      </p>
    </section>
  );
}

import { Link } from "react-router";
import type { Schedule, Wish } from "../../api/client";
import { Button } from "../../components/Button";
import { link } from "../../components/classes";
import { massAsRead } from "../../domain/quantities";
import { hours } from "../../domain/numbers";
import { when } from "../../domain/times";
import { decidesWords } from "./words";

interface Props {
  data: Schedule;
  now: Date;
  onPick: (wish: number) => void;
  onAdd: () => void;
}

/** What is wanted: for what, by when, when it is ready, and what decides that. */
export function WantedTable({ data, now, onPick, onAdd }: Props) {
  return (
    <section className="mt-4">
      <div className="mb-1 flex items-baseline justify-between">
        <h2 className="text-lg">Wanted</h2>
        <Button kind="quiet" className="print:hidden" onClick={onAdd}>
          Add a spool
        </Button>
      </div>
      <table className="w-full text-sm">
        <thead>
          <tr className="text-left text-muted">
            <th className="font-normal">spool</th>
            <th className="font-normal max-sm:hidden">for</th>
            <th className="font-normal">by</th>
            <th className="font-normal">ready</th>
            <th className="font-normal max-sm:hidden">what decides</th>
            <th className="font-normal print:hidden">
              <span className="sr-only">change</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {data.wishes.map((wish) => (
            <WantedRow key={wish.id} wish={wish} data={data} now={now} onPick={onPick} />
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** By when it is wanted next, and how often. */
function byWords({ due_at, keep_clean, every_days }: Wish, now: Date): string {
  if (keep_clean) return "always";
  const next = due_at === null ? "any time" : when(new Date(due_at), now);
  if (every_days === null) return next;
  const turn = every_days === 7 ? "each week" : every_days === 1 ? "each day" : `every ${every_days} days`;
  return `${next}, ${turn}`;
}

function WantedRow({ wish, data, now, onPick }: Omit<Props, "onAdd"> & { wish: Wish }) {
  const start = data.starts.find((one) => one.wish === wish.id);
  const what = [...(wish.grams === null ? [] : [massAsRead(wish.grams)]), ...(wish.note ? [wish.note] : [])];
  const ready = data.ready.includes(wish.id)
    ? wish.keep_clean
      ? "prints clean"
      : "dry already"
    : data.nowhere.includes(wish.id)
      ? "no dryer suits it"
      : start
        ? when(new Date(start.ends_at), now)
        : "–";
  return (
    <tr className="border-t border-line align-top">
      <td className="py-1.5 pr-2">
        <Link to={`/spools/${wish.spool}`} className="font-bold">
          {wish.spool_name}
        </Link>
      </td>
      <td className="py-1.5 pr-2 max-sm:hidden">{what.join(", ") || "–"}</td>
      <td className="py-1.5 pr-2 num whitespace-nowrap">{byWords(wish, now)}</td>
      <td
        className={`py-1.5 pr-2 num sm:whitespace-nowrap ${start && start.late_h > 0 ? "font-bold text-heat" : ""}`}
      >
        {ready}
        {start && start.late_h > 0 ? `, ${hours(start.late_h)} late` : ""}
      </td>
      <td className="py-1.5 pr-2 max-sm:hidden">{start ? decidesWords(start, data.late) : ""}</td>
      <td className="py-1 text-right print:hidden">
        <button
          type="button"
          className={`${link} min-h-6 min-w-6 max-sm:min-h-11`}
          aria-label={`change ${wish.spool_name}`}
          onClick={() => {
            onPick(wish.id);
          }}
        >
          change
        </button>
      </td>
    </tr>
  );
}

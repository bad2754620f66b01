import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { components } from "../../api/schema";
import { useUndo } from "../../app/acts";
import { Button } from "../../components/Button";
import { field } from "../../components/classes";
import { PageHeading } from "../../components/PageHeading";
import { useShell } from "../../components/shell";
import { Trouble } from "../../components/Trouble";
import { useAddressText } from "../../components/useAddressText";
import { when } from "../../domain/times";
import { changes as changesQuery, history } from "./queries";
import { fieldWords, recordWords, valueWords } from "./words";

type Entry = components["schemas"]["HistoryEntry"];

/** Who did what and when; what stood there before and after; and the way back. */
export function HistoryPage() {
  const [typed, setTyped] = useAddressText("find");
  const found = useInfiniteQuery(history(typed));
  const { data, error, refetch, hasNextPage, fetchNextPage, isFetchingNextPage } = found;
  if (error && !data) return <Trouble error={error} onRetry={refetch} />;
  const entries = data?.pages.flat();
  const now = new Date();
  return (
    <>
      <div className="mb-3 flex flex-wrap items-end justify-between gap-x-6 gap-y-2">
        <PageHeading page="History">What was done, newest first.</PageHeading>
        <input
          type="search"
          aria-label="Find in the history"
          placeholder="spool, weighing, name"
          className={`${field} max-w-56`}
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
          }}
        />
      </div>
      {!entries ? (
        <p role="status">Loading …</p>
      ) : entries.length === 0 ? (
        <p>{typed ? "Nothing in the history has these words." : "Nothing has been done yet."}</p>
      ) : (
        <ul>
          {entries.map((entry) => (
            <Line key={entry.id} entry={entry} now={now} />
          ))}
        </ul>
      )}
      {hasNextPage && (
        <Button
          kind="quiet"
          className="mt-3"
          disabled={isFetchingNextPage}
          onClick={() => {
            void fetchNextPage();
          }}
        >
          Older
        </Button>
      )}
    </>
  );
}

function Line({ entry, now }: { entry: Entry; now: Date }) {
  const { notify } = useShell();
  const undo = useUndo();
  const [open, setOpen] = useState(false);
  const undone = entry.undone_at ? new Date(entry.undone_at) : null;
  return (
    <li className="border-b border-line py-1.5">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <span className="w-32 shrink-0 num text-muted">{when(new Date(entry.at), now)}</span>
        <span className={`grow basis-64 ${undone ? "text-muted line-through" : ""}`}>{entry.summary}</span>
        <span className="text-sm text-muted">{entry.by}</span>
        <span className="flex gap-4 text-sm">
          <Button
            kind="link"
            aria-expanded={open}
            aria-label={`What changed: ${entry.summary}`}
            onClick={() => {
              setOpen(!open);
            }}
          >
            what changed
          </Button>
          {undone ? (
            <span className="text-muted">undone {when(undone, now)}</span>
          ) : (
            <Button
              kind="link"
              aria-label={`Undo: ${entry.summary}`}
              disabled={undo.isPending}
              onClick={() => {
                undo.mutate(entry.id, {
                  onSuccess: () => {
                    notify({ text: `Undone: ${entry.summary}`, undo: null });
                  },
                  onError: ({ message }) => {
                    notify({ text: message, undo: null });
                  },
                });
              }}
            >
              undo
            </Button>
          )}
        </span>
      </div>
      {open && <Changes entry={entry.id} />}
    </li>
  );
}

function Changes({ entry }: { entry: number }) {
  const { data: records, error, refetch } = useQuery(changesQuery(entry));
  if (error) return <Trouble error={error} onRetry={refetch} />;
  if (!records) return <p className="text-sm text-muted">Reading …</p>;
  if (records.length === 0) return <p className="text-sm text-muted">No record was changed.</p>;
  return (
    <div className="my-2 flex flex-col gap-3 border-l-4 border-line pl-3 text-sm">
      {records.map((record, place) => (
        <section key={place}>
          <h2 className="text-sm font-bold">
            {recordWords(record.record)}
            {record.rows !== null ? `, ${record.rows} rows` : ""}
            {record.created ? ", new" : record.removed ? ", removed" : ""}
          </h2>
          {record.fields_changed.length > 0 && (
            <table className="num">
              <thead className="text-muted">
                <tr>
                  <th className="pr-6 text-left font-normal">what</th>
                  <th className="pr-6 text-left font-normal">before</th>
                  <th className="text-left font-normal">after</th>
                </tr>
              </thead>
              <tbody>
                {record.fields_changed.map((change) => (
                  <tr key={change.field}>
                    <td className="pr-6">{fieldWords(change.field)}</td>
                    <td className="pr-6 break-all">{valueWords(change.field, change.before)}</td>
                    <td className="break-all">{valueWords(change.field, change.after)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </section>
      ))}
    </div>
  );
}

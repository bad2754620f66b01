import { Button as Plain } from "@headlessui/react";
import { useCallback, useEffect, useRef, useSyncExternalStore } from "react";
import { ApiError } from "../../api/client";
import { useSendLater } from "./acts";
import { useShell } from "../../components/shell";
import { discard, isForLater, isOfThisWorkshop, listen, refuse, waiting } from "./outbox";

const RETRY_MS = 5000;

/** A later move that another person noted meanwhile holds on. */
const movedOn = (names: readonly string[]) =>
  names.length === 0
    ? ""
    : ` ${names.join(", ")} ${names.length === 1 ? "was" : "were"} moved again after that, and that later move stands.`;

/** What waits in this browser until the server is back; it is sent by itself. */
export function OutboxBar() {
  const rows = useSyncExternalStore(listen, waiting);
  const { notify } = useShell();
  const { mutateAsync } = useSendLater();
  const sending = useRef(false);
  const open = rows.filter((row) => row.refused === undefined && isOfThisWorkshop(row));

  const send = useCallback(async () => {
    if (sending.current) return;
    sending.current = true;
    try {
      for (const entry of waiting().filter((row) => row.refused === undefined && isOfThisWorkshop(row))) {
        try {
          const { undo, moved_on = [] } = await mutateAsync(entry);
          discard(entry.key);
          notify({ text: `Darre is back: saved ${entry.told}.${movedOn(moved_on)}`, undo });
        } catch (error) {
          if (!(error instanceof ApiError) || isForLater(error) || error.status >= 500) return;
          if (error.code === "other_workshop") return; // it waits on for its own
          refuse(entry.key, error.message);
        }
      }
    } finally {
      sending.current = false;
    }
  }, [mutateAsync, notify]);

  useEffect(() => {
    if (open.length === 0) return;
    const timer = setInterval(() => void send(), RETRY_MS);
    const now = () => void send();
    window.addEventListener("online", now);
    return () => {
      clearInterval(timer);
      window.removeEventListener("online", now);
    };
  }, [open.length, send]);

  if (rows.length === 0) return null;
  return (
    <section
      aria-label="Saved in this browser"
      role="status"
      className="border-b-2 border-ink bg-paper print:hidden"
    >
      <ul className="mx-auto max-w-[1440px] px-5 py-2">
        {rows.map((row) => (
          <li key={row.key} className="flex flex-wrap items-baseline gap-x-3">
            <strong>{row.told}</strong>
            {row.refused === undefined && isOfThisWorkshop(row) ? (
              <span>is saved in this browser and will be sent as soon as Darre answers.</span>
            ) : (
              <>
                <span className="font-bold text-heat">
                  {row.refused === undefined
                    ? "belongs to another workshop, and waits in this browser until that one is open."
                    : `was not taken: ${row.refused}`}
                </span>
                <Plain
                  className="underline underline-offset-2"
                  onClick={() => {
                    discard(row.key);
                  }}
                >
                  Discard it
                </Plain>
              </>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

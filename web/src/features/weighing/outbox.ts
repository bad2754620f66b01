/** Weigh-ins typed while the server was away: kept in this browser, sent once it is back. Each has a key of its own, so
 * that however often it is sent it is stored once. */
import { ApiError } from "../../api/client";
import type { components } from "../../api/schema";
import { keep, kept } from "../../domain/storage";
import { openedWorkshop, workshop } from "../../domain/workshop";

export interface Waiting {
  body: components["schemas"]["SaveWeighingRequest"];
  /** Whose weigh-in it is and what the scale read, for the person. */
  told: string;
  /** The workshop it was weighed in, null where the page had not heard of one yet. */
  workshop: string | null;
  /** What the server said against it, once it was back. */
  refused?: string;
}

/** Whether a weigh-in that got this answer is to be sent later: the server is away, or asks to sign in first. */
export const isForLater = (error: unknown): boolean =>
  error instanceof ApiError && (error.code === "unreachable" || error.status === 401);

const KEY = "darre.outbox";
const listeners = new Set<() => void>();
let text = kept(KEY) ?? "[]";
let rows = parsed(text);

function parsed(kept: string): Waiting[] {
  try {
    const found: unknown = JSON.parse(kept);
    return Array.isArray(found) ? (found as Waiting[]) : [];
  } catch {
    return [];
  }
}

function write(next: Waiting[]): boolean {
  rows = next;
  text = JSON.stringify(next);
  const safe = keep(KEY, text);
  listeners.forEach((tell) => {
    tell();
  });
  return safe;
}

/** What waits, oldest first. */
export const waiting = (): Waiting[] => rows;

/** Whether it outlives this page: a browser may keep nothing. */
export function keepForLater(weighed: Omit<Waiting, "workshop">): boolean {
  const waiting = { ...weighed, workshop: workshop() };
  return write([...rows.filter((row) => row.body.client_key !== waiting.body.client_key), waiting]);
}

export function discard(key: string) {
  write(rows.filter((row) => row.body.client_key !== key));
}

/** Note what the server said against a weigh-in; it stays until the person discards it. */
export function refuse(key: string, message: string) {
  write(rows.map((row) => (row.body.client_key === key ? { ...row, refused: message } : row)));
}

/** Whether it waits for the workshop that is open here. What was kept by an older page names none. */
export const isOfThisWorkshop = (row: Waiting): boolean => {
  const open = openedWorkshop();
  return !row.workshop || open === null || row.workshop === open;
};

export function listen(tell: () => void): () => void {
  const elsewhere = (event: StorageEvent) => {
    if (event.key !== KEY) return;
    rows = parsed(event.newValue ?? "[]");
    tell();
  };
  listeners.add(tell);
  window.addEventListener("storage", elsewhere);
  return () => {
    listeners.delete(tell);
    window.removeEventListener("storage", elsewhere);
  };
}

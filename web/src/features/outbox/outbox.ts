/** What was done while the server was away: kept in this browser, sent once it is back. Each has a key of its own, so
 * that however often it is sent, and from however many tabs, it is done once. */
import { ApiError } from "../../api/client";
import type { components } from "../../api/schema";
import { keep, kept } from "../../domain/storage";
import { openedWorkshop, workshop } from "../../domain/workshop";

type Schemas = components["schemas"];

/** An act that may wait: a weighing, a move, a note about a run, the reading of a sample. */
export interface Act {
  key: string;
  /** The address that it is posted to. */
  path: string;
  body:
    | Schemas["SaveWeighingRequest"]
    | Schemas["MoveRequest"]
    | Schemas["WriteEventRequest"]
    | Schemas["NewReadingRequest"];
}

export interface Waiting extends Act {
  /** What was done, to what, and when, for the person. */
  told: string;
  /** The workshop it was done in, null where the page had not heard of one yet. */
  workshop: string | null;
  /** What the server said against it, once it was back. */
  refused?: string;
}

/** Whether an act that got this answer is to be sent later: the server is away, or asks to sign in first. */
export const isForLater = (error: unknown): boolean =>
  error instanceof ApiError && (error.code === "unreachable" || error.status === 401);

export const WEIGHINGS = "/api/weighings/";
const KEY = "darre.outbox";
const listeners = new Set<() => void>();
let text = kept(KEY) ?? "[]";
let rows = parsed(text);

/** A row as it is kept now; before, weighings alone waited. */
function asNow(row: Waiting): Waiting {
  if ("key" in row) return row;
  const { body } = row as { body: Schemas["SaveWeighingRequest"] };
  return { ...(row as Waiting), key: body.client_key, path: WEIGHINGS, body };
}

function parsed(kept: string): Waiting[] {
  try {
    const found: unknown = JSON.parse(kept);
    return Array.isArray(found) ? found.map(asNow) : [];
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
export function keepForLater(act: Omit<Waiting, "workshop">): boolean {
  return write([...rows.filter((row) => row.key !== act.key), { ...act, workshop: workshop() }]);
}

export function discard(key: string) {
  write(rows.filter((row) => row.key !== key));
}

/** Note what the server said against an act; it stays until the person discards it. */
export function refuse(key: string, message: string) {
  write(rows.map((row) => (row.key === key ? { ...row, refused: message } : row)));
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

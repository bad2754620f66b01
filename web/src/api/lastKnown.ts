/** Whether what is on the screen comes from the server, or is what was last known of it: the service worker answers
 * while the server does not. */
/** The cache of the worker, and the header by which an answer from it says when the server gave it. */
export const LAST_KNOWN = "last-known";
export const KNOWN_AT = "X-Darre-Known-At";

let since: string | null = null;
const listeners = new Set<() => void>();

function set(next: string | null) {
  if (next === since) return;
  since = next;
  listeners.forEach((tell) => {
    tell();
  });
}

/** Take down where an answer came from. Of several that were kept, the oldest counts. */
export function sawAnswer(response: Response) {
  const at = response.headers.get(KNOWN_AT);
  if (at === null) set(null);
  else set(since !== null && since < at ? since : at);
}

export function listen(tell: () => void) {
  listeners.add(tell);
  return () => {
    listeners.delete(tell);
  };
}

/** Since when the oldest of what is shown is known; null where the server itself answers. */
export const knownSince = (): string | null => since;

/** Drop what was kept: another person, or another workshop, is here now. */
export async function forgetLastKnown() {
  if ("caches" in window) await caches.delete(LAST_KNOWN);
}

/** Have the worker take over. What was read before it was there is read once more, so that it knows it. */
export function keepLastKnown(readAgain: () => void) {
  if (!("serviceWorker" in navigator)) return; // an address that the browser does not trust, or one too old
  const workers = navigator.serviceWorker;
  if (!workers.controller) workers.addEventListener("controllerchange", readAgain, { once: true });
  workers.register("/worker.js").catch(() => undefined); // the page works on without it
}

/** Fetches parts of the page while nothing else is to do, so that they open at once and also once the server is away. */
export function fetchWhenIdle(parts: readonly (() => Promise<unknown>)[]) {
  const load = () => {
    for (const part of parts) {
      part().catch(() => undefined); // asked for again when the page is opened
    }
  };
  if ("requestIdleCallback" in window) requestIdleCallback(load, { timeout: 10_000 });
  else setTimeout(load, 3000);
}

import { lazy } from "react";

const load = () => import("./SchedulePage");

/** The schedule comes after the first page, so that it is there sooner. */
export const SchedulePage = lazy(() => load().then((loaded) => ({ default: loaded.SchedulePage })));

/** Fetch it while nothing else is to do, so that it opens at once and also once the server is away. */
export function loadSchedule() {
  const fetchPage = () => {
    load().catch(() => undefined); // asked for again when the page is opened
  };
  if ("requestIdleCallback" in window) requestIdleCallback(fetchPage, { timeout: 10_000 });
  else setTimeout(fetchPage, 3000);
}

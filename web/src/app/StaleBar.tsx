import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useSyncExternalStore } from "react";
import { client, unwrap } from "../api/client";
import { knownSince, listen } from "../api/lastKnown";
import { when } from "../domain/times";

const ASKS_MS = 5000;

/** Says that the server is away and of when the records on the screen are; asks it again by itself. */
export function StaleBar() {
  const known = useSyncExternalStore(listen, knownSince);
  const queries = useQueryClient();
  const stale = known !== null;
  useEffect(() => {
    if (!stale) return;
    const ask = async () => {
      try {
        await unwrap(client.GET("/api/health/"));
      } catch {
        return;
      }
      void queries.invalidateQueries();
    };
    const timer = setInterval(() => void ask(), ASKS_MS);
    return () => {
      clearInterval(timer);
    };
  }, [stale, queries]);
  if (known === null) return null;
  return (
    <p role="status" className="border-b-2 border-ink bg-paper px-5 py-2 print:hidden">
      <strong>Darre does not answer.</strong> You see the records as of {when(new Date(known), new Date())}.
      What you weigh, move or note now is saved in this browser and sent later.
    </p>
  );
}

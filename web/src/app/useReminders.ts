import { useQuery } from "@tanstack/react-query";
import { useEffect, useEffectEvent, useRef, useState } from "react";
import { runningRuns } from "../features/runs/queries";
import { nextStarts } from "../features/schedule/queries";
import { due } from "../features/runs/reminderWords";
import { useBrowserNotes } from "../components/browserNotes";

const LOOK_MS = 15_000;
const FIRST_MS = 3_000;

/** Tells in the page, and by the browser where the person allowed it, when a run or the schedule wants something. */
export function useReminders(tell: (text: string) => void) {
  // Nothing comes due in the first moments, in which the page itself is still loading.
  const [later, setLater] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => {
      setLater(true);
    }, FIRST_MS);
    return () => {
      clearTimeout(timer);
    };
  }, []);
  const { data: runs } = useQuery({ ...runningRuns, enabled: later });
  const { data: starts } = useQuery({ ...nextStarts, enabled: later });
  const { show } = useBrowserNotes();
  const looked = useRef(0);
  const told = useRef(new Set<string>());
  const look = useEffectEvent(() => {
    const now = Date.now();
    const found = due(runs ?? [], starts ?? [], looked.current || now, now).filter(
      (reminder) => !told.current.has(reminder.key),
    );
    looked.current = now;
    for (const reminder of found) {
      told.current.add(reminder.key);
      tell(reminder.text);
      show(reminder.text);
    }
  });
  useEffect(() => {
    const timer = setInterval(look, LOOK_MS);
    return () => {
      clearInterval(timer);
    };
  }, []);
}

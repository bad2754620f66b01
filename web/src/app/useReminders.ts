import { useQuery } from "@tanstack/react-query";
import { useEffect, useEffectEvent, useRef, useState } from "react";
import { runningRuns } from "../features/runs/queries";
import { nextStarts } from "../features/schedule/queries";
import { due } from "../features/runs/reminderWords";
import { showBrowserNote } from "../components/browserNotes";

const LOOK_MS = 15_000;
const FIRST_MS = 3_000;

/** Tells in the page, and by the browser where the person allowed it, when a run or the schedule wants something.
 *  What comes due before the runs or the schedule are known here is told once they are. */
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
  const looked = useRef({ runs: 0, starts: 0 });
  const told = useRef(new Set<string>());
  const look = useEffectEvent(() => {
    const now = Date.now();
    const since = looked.current;
    const found = [
      ...(runs ? due(runs, [], since.runs, now) : []),
      ...(starts ? due([], starts, since.starts, now) : []),
    ].filter((reminder) => !told.current.has(reminder.key));
    looked.current = { runs: runs ? now : since.runs, starts: starts ? now : since.starts };
    if (found.length === 0) return;
    tell(found.map(({ text }) => text).join(" "));
    for (const reminder of found) {
      told.current.add(reminder.key);
      showBrowserNote(reminder.text);
    }
  });
  useEffect(() => {
    looked.current = { runs: Date.now(), starts: Date.now() };
    const timer = setInterval(look, LOOK_MS);
    return () => {
      clearInterval(timer);
    };
  }, []);
  useEffect(() => {
    look();
  }, [runs, starts]);
}

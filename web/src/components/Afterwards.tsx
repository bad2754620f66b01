import { type ReactNode, useDeferredValue } from "react";

/** What can follow a frame later, so that what a person waits for is there at once. `space`: the class that keeps its room. */
export function Afterwards({ space, children }: { space: string; children: ReactNode }) {
  const now = useDeferredValue(true, false);
  return now ? children : <div className={space} />;
}

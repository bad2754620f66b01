import { useEffectEvent, useLayoutEffect } from "react";

/** Calls `press` for each key pressed anywhere on the page, unless something nearer to it stopped it. */
export function useKeydown(press: (event: KeyboardEvent) => void) {
  const hear = useEffectEvent(press);
  // Heard from the moment it is on screen: the next key may come before effects that wait for the paint.
  useLayoutEffect(() => {
    document.addEventListener("keydown", hear);
    return () => {
      document.removeEventListener("keydown", hear);
    };
  }, []);
}

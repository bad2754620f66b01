import { useEffect, useEffectEvent } from "react";

/** Calls `press` for each key pressed anywhere on the page, unless something nearer to it stopped it. */
export function useKeydown(press: (event: KeyboardEvent) => void) {
  const hear = useEffectEvent(press);
  useEffect(() => {
    document.addEventListener("keydown", hear);
    return () => {
      document.removeEventListener("keydown", hear);
    };
  }, []);
}

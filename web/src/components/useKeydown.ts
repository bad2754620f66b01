import { useEffect, useEffectEvent } from "react";

/** Hears each key that is pressed on the page, unless something nearer to it stops it. */
export function useKeydown(press: (event: KeyboardEvent) => void) {
  const hear = useEffectEvent(press);
  useEffect(() => {
    document.addEventListener("keydown", hear);
    return () => {
      document.removeEventListener("keydown", hear);
    };
  }, []);
}

import { useEffect, useRef, useState } from "react";

/** The width in pixels of the element that `ref` is given to, kept up to date. */
export function useWidth<Kind extends Element>(first: number) {
  const ref = useRef<Kind>(null);
  const [width, setWidth] = useState(first);
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const watcher = new ResizeObserver(([entry]) => {
      if (entry) setWidth(Math.max(240, Math.floor(entry.contentRect.width)));
    });
    watcher.observe(element);
    return () => {
      watcher.disconnect();
    };
  }, []);
  return { ref, width };
}

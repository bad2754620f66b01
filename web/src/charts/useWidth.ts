import { useLayoutEffect, useRef, useState } from "react";

const LEAST = 240;

/** The width in pixels of the element that `ref` is given to: `first` until it is laid out, and kept up to date. */
export function useWidth<Kind extends Element>(first: number) {
  const ref = useRef<Kind>(null);
  const [width, setWidth] = useState(first);
  // Before the first picture is painted: a chart that begins too wide would push the whole page aside for a moment.
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return;
    const take = (found: number) => {
      setWidth(Math.max(LEAST, Math.floor(found)));
    };
    take(element.getBoundingClientRect().width);
    const watcher = new ResizeObserver(([entry]) => {
      if (entry) take(entry.contentRect.width);
    });
    watcher.observe(element);
    return () => {
      watcher.disconnect();
    };
  }, []);
  return { ref, width };
}

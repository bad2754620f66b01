import { type RefObject, useLayoutEffect, useState } from "react";

const MARGIN = 600;

/** Which rows of equal height are near the window, so that a long list draws no more than these. */
export function useSeen(list: RefObject<HTMLElement | null>, count: number, rowHeight: number) {
  const [span, setSpan] = useState({ from: 0, to: Math.min(count, 24) });
  useLayoutEffect(() => {
    function look() {
      const top = list.current?.getBoundingClientRect().top ?? 0;
      const from = Math.max(0, Math.floor((-top - MARGIN) / rowHeight));
      const to = Math.min(count, Math.ceil((window.innerHeight - top + MARGIN) / rowHeight));
      setSpan((was) => (was.from === from && was.to === to ? was : { from, to: Math.max(to, from) }));
    }
    look();
    window.addEventListener("scroll", look, { passive: true });
    window.addEventListener("resize", look);
    return () => {
      window.removeEventListener("scroll", look);
      window.removeEventListener("resize", look);
    };
  }, [list, count, rowHeight]);
  return span;
}

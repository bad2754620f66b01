import { type ReactNode, useRef } from "react";
import { Modal } from "./Modal";

interface Props {
  onClose: () => void;
  /** How wide the panel may become. */
  width?: string;
  children: ReactNode;
}

/** Keys that scroll, by how many heights of what they scroll. */
const SCROLLS = new Map([
  ["PageUp", -0.9],
  ["PageDown", 0.9],
  ["Home", -1000],
  ["End", 1000],
]);

/** A panel over the page, which waits behind it, dimmed. Esc leaves it. Mounted while it is open, not before. */
export function OverPage({ onClose, width = "max-w-md", children }: Props) {
  const panel = useRef<HTMLDivElement>(null);
  /** Where the finger or the mouse came down: text marked from within to beside it is no click beside it. */
  const began = useRef<EventTarget>(null);

  // Such a key scrolls the panel, and never the page behind it once the panel is at its end.
  function scroll(event: KeyboardEvent) {
    const heights = SCROLLS.get(event.key);
    const typed = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
    if (heights === undefined || typed || !panel.current) return;
    event.preventDefault();
    panel.current.scrollBy(0, heights * panel.current.clientHeight);
  }

  return (
    <Modal onLeave={onClose} onKeyDown={scroll} className="relative z-30">
      {/* A layer of its own: the page below need not be painted again as it comes and goes. */}
      <div className="fixed inset-0 bg-black/40 will-change-transform" />
      <div
        className="fixed inset-0 flex touch-none items-end justify-center overflow-hidden overscroll-contain sm:items-center sm:p-4"
        onPointerDown={(event) => {
          began.current = event.target;
        }}
        onClick={(event) => {
          if (event.target === event.currentTarget && began.current === event.target) onClose();
        }}
      >
        <div
          ref={panel}
          className={`max-h-full w-full touch-auto overflow-auto overscroll-contain border-2 border-ink bg-ground p-5 ${width}`}
        >
          {children}
        </div>
      </div>
    </Modal>
  );
}

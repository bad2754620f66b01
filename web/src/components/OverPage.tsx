import { Dialog, DialogBackdrop, DialogPanel, Portal } from "@headlessui/react";
import { type KeyboardEvent, type ReactNode, useRef } from "react";

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

  // Such a key scrolls the panel, and never the page behind it once the panel is at its end.
  function scroll(event: KeyboardEvent<HTMLElement>) {
    const heights = SCROLLS.get(event.key);
    const typed = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
    if (heights === undefined || typed || !panel.current) return;
    event.preventDefault();
    panel.current.scrollBy(0, heights * panel.current.clientHeight);
  }

  return (
    <Dialog open static onClose={onClose} onKeyDown={scroll} className="relative z-30">
      {/* A layer of its own: the page below need not be painted again as it comes and goes. */}
      <DialogBackdrop className="fixed inset-0 bg-black/40 will-change-transform" />
      <div className="fixed inset-0 flex items-end justify-center overflow-hidden overscroll-contain sm:items-center sm:p-4">
        <DialogPanel
          ref={panel}
          className={`max-h-full w-full overflow-auto overscroll-contain border-2 border-ink bg-ground p-5 ${width}`}
        >
          {children}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

/** Where panels open, there from the start. Made with the first of them, it would also set every element of the page
 * inert, at once, before the panel is seen; the panel is modal and keeps the focus as it is. */
export function OverPageRoot() {
  return (
    <Portal>
      <span hidden />
    </Portal>
  );
}

import { FocusTrap } from "@headlessui/react";
import { createContext, type ReactNode, useContext, useId, useRef } from "react";
import { createPortal } from "react-dom";
import { useKeydown } from "./useKeydown";

interface Props {
  /** What it is called, where no `ModalTitle` within says so. */
  label?: string;
  /** Esc, wherever the focus is: what opened last is left first. */
  onLeave: () => void;
  /** Any other key, wherever the focus is: it may not have come in yet when the first key is pressed. */
  onKeyDown?: (event: KeyboardEvent) => void;
  className: string;
  children: ReactNode;
}

const TitleId = createContext<string | undefined>(undefined);

/** What may have the focus too: lists that open from within, in places of their own, and a modal that came over it. */
const opened = () => document.querySelectorAll("[data-headlessui-portal], [role=dialog]");

/** Lies over the page and keeps the focus until it is left, then gives it back. Mounted while it is open, not before. */
export function Modal({ label, onLeave, onKeyDown, className, children }: Props) {
  const titleId = useId();
  const own = useRef<HTMLElement>(null);
  useKeydown((event) => {
    if (event.defaultPrevented) return;
    if ([...document.querySelectorAll("[role=dialog]")].at(-1) !== own.current) return;
    if (event.key !== "Escape") {
      onKeyDown?.(event);
      return;
    }
    event.preventDefault();
    onLeave();
  });
  return createPortal(
    <FocusTrap
      ref={own}
      initialFocusFallback={own}
      containers={opened}
      role="dialog"
      aria-modal
      aria-label={label}
      aria-labelledby={label === undefined ? titleId : undefined}
      tabIndex={-1}
      className={className}
    >
      <TitleId value={titleId}>{children}</TitleId>
    </FocusTrap>,
    document.body,
  );
}

/** The heading by which its modal is called. */
export function ModalTitle({ className, children }: { className: string; children: ReactNode }) {
  return (
    <h2 id={useContext(TitleId)} className={className}>
      {children}
    </h2>
  );
}

import { Button as Plain } from "@headlessui/react";
import { useEffect, type ReactNode } from "react";
import type { Notice } from "../components/shell";
import { useUndo } from "./acts";

const SHOWN_MS = 20_000;

interface Props {
  /** What was just done. */
  done: Notice | null;
  onClose: () => void;
  /** What somebody is to be reminded of: each stays until it is dismissed, whatever else is said meanwhile. */
  reminders: readonly string[];
  onDismiss: (text: string) => void;
}

/** What was just done, with the way back, under the reminders that still wait. */
export function Notices({ done, onClose, reminders, onDismiss }: Props) {
  return (
    <div className="fixed bottom-16 left-1/2 z-20 flex w-max max-w-[calc(100vw-2rem)] -translate-x-1/2 flex-col items-center gap-2 sm:bottom-5 print:hidden">
      {reminders.map((text) => (
        <Bar
          key={text}
          text={text}
          onClose={() => {
            onDismiss(text);
          }}
        />
      ))}
      {done && <Done key={done.text} notice={done} onClose={onClose} />}
    </div>
  );
}

/** Long enough to be read with a spool in both hands. */
function Done({ notice, onClose }: { notice: Notice; onClose: () => void }) {
  const undo = useUndo();
  const settled = undo.isSuccess || undo.isError;
  useEffect(() => {
    const timer = setTimeout(onClose, SHOWN_MS);
    return () => {
      clearTimeout(timer);
    };
  }, [notice, onClose, settled]);
  const text = undo.isSuccess ? "Taken back." : undo.isError ? undo.error.message : notice.text;
  return (
    <Bar text={text} onClose={onClose}>
      {notice.undo !== null && !settled && (
        <Plain
          className="font-bold underline underline-offset-4"
          disabled={undo.isPending}
          onClick={() => {
            if (notice.undo !== null) undo.mutate(notice.undo);
          }}
        >
          Undo
        </Plain>
      )}
    </Bar>
  );
}

function Bar({ text, onClose, children }: { text: string; onClose: () => void; children?: ReactNode }) {
  return (
    <div role="status" className="flex items-center gap-4 bg-ink px-4 py-3 text-paper">
      <span>{text}</span>
      {children}
      <Plain aria-label="Dismiss" className="px-1" onClick={onClose}>
        ×
      </Plain>
    </div>
  );
}

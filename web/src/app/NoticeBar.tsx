import { Button as Plain } from "@headlessui/react";
import { useEffect } from "react";
import { useUndo } from "./acts";
import type { Notice } from "../components/shell";

const SHOWN_MS = 20_000;

/** What was just done, with the way back: long enough to be read with a spool in both hands. A reminder stays. */
export function NoticeBar({ notice, onClose }: { notice: Notice; onClose: () => void }) {
  const undo = useUndo();
  const settled = undo.isSuccess || undo.isError;
  useEffect(() => {
    if (notice.stays) return;
    const timer = setTimeout(onClose, SHOWN_MS);
    return () => {
      clearTimeout(timer);
    };
  }, [notice, onClose, settled]);
  const text = undo.isSuccess ? "Taken back." : undo.isError ? undo.error.message : notice.text;
  return (
    <div
      role="status"
      className="fixed bottom-16 left-1/2 z-20 flex w-max max-w-[calc(100vw-2rem)] -translate-x-1/2 items-center gap-4 bg-ink px-4 py-3 text-paper sm:bottom-5 print:hidden"
    >
      <span>{text}</span>
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
      <Plain aria-label="Dismiss" className="px-1" onClick={onClose}>
        ×
      </Plain>
    </div>
  );
}

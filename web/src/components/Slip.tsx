import { Button, Dialog, DialogBackdrop, DialogPanel, DialogTitle } from "@headlessui/react";
import type { ReactNode } from "react";
import { quiet } from "./classes";

interface Props {
  title: string;
  onClose: () => void;
  onSubmit: () => void;
  children: ReactNode;
  wide?: boolean;
}

/** A small form over the room. Esc leaves it. */
export function Slip({ title, onClose, onSubmit, children, wide = false }: Props) {
  return (
    <Dialog open onClose={onClose} className="relative z-30">
      <DialogBackdrop className="fixed inset-0 bg-black/40" />
      <div className="fixed inset-0 flex items-end justify-center sm:items-center sm:p-4">
        <DialogPanel
          className={`max-h-full w-full overflow-auto border-2 border-ink bg-ground p-5 ${wide ? "max-w-2xl" : "max-w-md"}`}
        >
          <div className="mb-3 flex items-start justify-between gap-4">
            <DialogTitle as="h2" className="text-xl">
              {title}
            </DialogTitle>
            <Button className={`${quiet} px-2 py-0.5`} onClick={onClose}>
              Cancel
            </Button>
          </div>
          <form
            noValidate
            className="flex flex-col gap-3"
            onSubmit={(event) => {
              event.preventDefault();
              onSubmit();
            }}
          >
            {children}
          </form>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

import type { ReactNode } from "react";
import { Alert } from "./Alert";
import { Button } from "./Button";
import { ModalTitle } from "./Modal";
import { OverPage } from "./OverPage";

interface Props {
  title: string;
  onClose: () => void;
  onSubmit: () => void;
  /** What was refused, where no field of its own can say it. */
  problem?: string | undefined;
  children: ReactNode;
  wide?: boolean;
  /** What leaves it; a slip that only shows is closed. */
  leave?: string;
}

/** A small form over the page. Esc leaves it. */
export function Slip({ title, onClose, onSubmit, problem, children, wide = false, leave = "Cancel" }: Props) {
  return (
    <OverPage onClose={onClose} {...(wide && { width: "max-w-2xl" })}>
      <div className="mb-3 flex items-start justify-between gap-4">
        <ModalTitle className="text-xl">{title}</ModalTitle>
        <Button kind="quiet" className="px-2 py-0.5" onClick={onClose}>
          {leave}
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
        {problem !== undefined && <Alert>{problem}</Alert>}
      </form>
    </OverPage>
  );
}

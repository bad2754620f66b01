import type { ReactNode } from "react";

/** What was refused, where no field of its own can say it. */
export function Alert({ children }: { children: ReactNode }) {
  return (
    <p role="alert" className="font-bold text-heat">
      {children}
    </p>
  );
}

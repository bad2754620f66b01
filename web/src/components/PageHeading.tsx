import type { ReactNode } from "react";

interface Props {
  /** What the browser's tab is called. */
  page: string;
  className?: string;
  children: ReactNode;
}

/** The sentence that a page opens with, and the name of its tab. */
export function PageHeading({ page, className = "", children }: Props) {
  return (
    <>
      <title>{`${page} · Darre`}</title>
      <h1 className={className} aria-live="polite">
        {children}
      </h1>
    </>
  );
}

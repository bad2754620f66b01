import type { ReactNode } from "react";
import { PageHeading } from "./PageHeading";
import { PastedTable } from "./PastedTable";
import { panel } from "./classes";

interface Props {
  page: string;
  heading: string;
  /** A line under the heading. */
  note?: ReactNode;
  text: string;
  example: string;
  onText: (text: string) => void;
  /** Why what was pasted cannot be read at all. */
  problem: string | undefined;
  /** What is to be said before it is added, and the way to add it. */
  form: ReactNode;
  /** What was read. */
  children: ReactNode;
}

/** A page on which a table is pasted, looked at, put right, and added as one act. */
export function TableImport(props: Props) {
  const { page, heading, note, text, example, onText, problem, form, children } = props;
  return (
    <>
      <PageHeading page={page}>{heading}</PageHeading>
      {note && <p className="text-sm">{note}</p>}
      <div className="mt-4 grid gap-6 lane:grid-cols-[24rem_1fr]">
        <div className="flex flex-col gap-4">
          <PastedTable text={text} example={example} onText={onText} />
          {form}
        </div>
        <div className="min-w-0">
          {text.trim() !== "" && problem !== undefined && (
            <p role="alert" className={`${panel} font-bold text-heat`}>
              {problem}
            </p>
          )}
          {children}
        </div>
      </div>
    </>
  );
}

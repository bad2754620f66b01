import type { ReactNode } from "react";

interface Head {
  name: string;
  /** Numbers stand to the right. */
  right?: boolean;
}

/** What was read of a pasted table, row by row; `children` are its rows. */
export function ReadRows({ heads, children }: { heads: readonly Head[]; children: ReactNode }) {
  return (
    <>
      <h2 className="mt-4 mb-1">What is read</h2>
      <div className="max-h-[30rem] overflow-auto" tabIndex={0} role="region" aria-label="Rows of the table">
        <table className="w-full text-sm">
          <thead>
            <tr className="text-left text-muted">
              <th className="pr-3 font-normal">line</th>
              {heads.map(({ name, right }) => (
                <th key={name} className={`font-normal ${right ? "pl-3 text-right whitespace-nowrap" : ""}`}>
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>{children}</tbody>
        </table>
      </div>
    </>
  );
}

interface RowProps {
  line: number;
  name: string;
  /** What is wrong with it; empty: nothing. */
  problem: string;
  /** Its other cells. */
  children: ReactNode;
}

/** A row with its line, its name, and what is wrong with it. */
export function ReadRow({ line, name, problem, children }: RowProps) {
  return (
    <tr className="border-t border-line align-top">
      <td className="py-1 pr-3 num text-muted">{line}</td>
      <td className="py-1 pr-3">
        <b>{name || "–"}</b>
        {problem && <span className="block font-bold text-heat">{problem}</span>}
      </td>
      {children}
    </tr>
  );
}

import { createContext, use } from "react";
import type { Plan, RunSheet, Ticket } from "../api/client";

/** What a weigh slip is for: a plain weighing, the first weighing of all that goes into a dryer, or the one that ends
 * a run. */
export type Intent =
  | { kind: "keep"; spool?: number }
  | { kind: "start"; plan: Plan; ticket: Ticket; reason: string }
  | { kind: "end"; run: RunSheet["run"] };

/** The field that `/` leads to. */
export const FIND_ID = "find";

export interface Notice {
  text: string;
  /** The line of history that takes it back. */
  undo: number | null;
}

interface Shell {
  weigh: (intent?: Intent) => void;
  /** What the key W does on a page that weighs by itself; null where it opens the slip, as everywhere. */
  weighHere: (act: (() => void) | null) => void;
  notify: (notice: Notice) => void;
  /** Ask where spools went; the one that is looked at unless others are given. */
  move: (...spools: number[]) => void;
  /** A bad print: open a case over it; off the spool that is looked at unless another is given. */
  badPrint: (spool?: number, print?: number) => void;
  /** The spool that the person looks at; a weigh slip and a plan start with it. */
  lookAt: (spool: number | undefined) => void;
}

export const ShellContext = createContext<Shell | null>(null);

/** The shell's acts, from any page. */
export function useShell(): Shell {
  const shell = use(ShellContext);
  if (!shell) throw new Error("useShell outside the shell");
  return shell;
}

import { keep, kept } from "./storage";

/** The workshop that this page was opened in: its acts are meant for no other. */
const KEY = "darre.workshop";

let opened: string | null = null;

/** Whether another one was open here before. */
export function openWorkshop(key: string): boolean {
  const before = workshop();
  opened = key;
  keep(KEY, key);
  return before !== null && before !== key;
}

/** The one that is open, null while that is not known. */
export const openedWorkshop = () => opened;

/** The one that is open, or while that is not known, the one that was open here last. */
export const workshop = (): string | null => opened ?? kept(KEY);

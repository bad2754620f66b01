import { keep, kept } from "./storage";

/** The workshop that this page was opened in: its acts are meant for no other. */
const KEY = "darre.workshop";

let opened: string | null = null;

export function openWorkshop(key: string) {
  opened = key;
  keep(KEY, key);
}

/** The one that is open, null while that is not known. */
export const openedWorkshop = () => opened;

/** The one that is open, or while that is not known, the one that was open here last. */
export const workshop = (): string | null => opened ?? kept(KEY);

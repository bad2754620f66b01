import { keep, kept } from "./storage";

/** The name that a person goes by in the history, kept in this browser and sent along with every act. */
const KEY = "darre.name";
export const LONGEST_NAME = 60;

export const myName = (): string => kept(KEY) ?? "";

export function setMyName(name: string) {
  keep(KEY, name.trim().slice(0, LONGEST_NAME));
}

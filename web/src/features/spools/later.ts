import { fetchWhenIdle, later } from "../../components/later";

const load = () => import("./ImportPage");

/** Adding many spools is rare: its page comes after the first one. */
export const ImportPage = later(load, "ImportPage");

export const loadImport = () => {
  fetchWhenIdle([load]);
};

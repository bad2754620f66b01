import { fetchWhenIdle, later } from "../../components/later";

const load = () => import("./ImportRunsPage");

/** Adding many runs is rare: its page comes after the first one. */
export const ImportRunsPage = later(load, "ImportRunsPage");

export const loadImportRuns = () => {
  fetchWhenIdle([load]);
};

import { fetchWhenIdle, later } from "../../components/later";

const load = () => import("./ImportWeighingsPage");

/** Adding many weighings is rare: its page comes after the first one. */
export const ImportWeighingsPage = later(load, "ImportWeighingsPage");

export const loadImportWeighings = () => {
  fetchWhenIdle([load]);
};

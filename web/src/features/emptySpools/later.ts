import { fetchWhenIdle, later } from "../../components/later";

const load = () => import("./EmptySpoolsPage");

/** Lists of empty spools are looked at rarely: their page comes after the first one. */
export const EmptySpoolsPage = later(load, "EmptySpoolsPage");

export const loadEmptySpools = () => {
  fetchWhenIdle([load]);
};

import { fetchWhenIdle, later } from "../../components/later";

const load = () => import("./ScanPage");

/** Reading codes takes code of its own, which comes after the first page. */
export const ScanPage = later(load, "ScanPage");

export const loadScan = () => {
  fetchWhenIdle([load]);
};

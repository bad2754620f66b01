import { lazy } from "react";
import { fetchWhenIdle } from "../../components/idle";

const load = () => import("./ScanPage");

/** Reading codes takes code of its own, which comes after the first page. */
export const ScanPage = lazy(() => load().then((loaded) => ({ default: loaded.ScanPage })));

export const loadScan = () => {
  fetchWhenIdle([load]);
};

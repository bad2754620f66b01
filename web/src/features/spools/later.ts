import { lazy } from "react";
import { fetchWhenIdle } from "../../components/idle";

const load = () => import("./ImportPage");

/** Adding many spools is rare: its page comes after the first one. */
export const ImportPage = lazy(() => load().then((loaded) => ({ default: loaded.ImportPage })));

export const loadImport = () => {
  fetchWhenIdle([load]);
};

import { lazy } from "react";
import { fetchWhenIdle } from "../../components/idle";

const load = () => import("./ImportWeighingsPage");

/** Adding many weighings is rare: its page comes after the first one. */
export const ImportWeighingsPage = lazy(() =>
  load().then((loaded) => ({ default: loaded.ImportWeighingsPage })),
);

export const loadImportWeighings = () => {
  fetchWhenIdle([load]);
};

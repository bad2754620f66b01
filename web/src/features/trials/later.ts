import { lazy } from "react";
import { fetchWhenIdle } from "../../components/idle";

const loadList = () => import("./TrialsPage");
const loadNew = () => import("./NewTrialPage");
const loadOne = () => import("./TrialPage");

/** Trials come after the first page, so that it is there sooner. */
export const TrialsPage = lazy(() => loadList().then((loaded) => ({ default: loaded.TrialsPage })));
export const NewTrialPage = lazy(() => loadNew().then((loaded) => ({ default: loaded.NewTrialPage })));
export const TrialPage = lazy(() => loadOne().then((loaded) => ({ default: loaded.TrialPage })));

export const loadTrials = () => {
  fetchWhenIdle([loadList, loadNew, loadOne]);
};

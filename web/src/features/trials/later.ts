import { fetchWhenIdle, later } from "../../components/later";

const loadList = () => import("./TrialsPage");
const loadNew = () => import("./NewTrialPage");
const loadOne = () => import("./TrialPage");

/** Trials come after the first page, so that it is there sooner. */
export const TrialsPage = later(loadList, "TrialsPage");
export const NewTrialPage = later(loadNew, "NewTrialPage");
export const TrialPage = later(loadOne, "TrialPage");

export const loadTrials = () => {
  fetchWhenIdle([loadList, loadNew, loadOne]);
};

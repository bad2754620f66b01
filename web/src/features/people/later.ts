import { lazy } from "react";
import { fetchWhenIdle } from "../../components/idle";

const load = () => import("./PeoplePage");
const loadSign = () => import("./SignIn");
const loadJoin = () => import("./JoinPage");

/** Who may come in is looked at rarely: its pages come after the first one. */
export const PeoplePage = lazy(() => load().then((loaded) => ({ default: loaded.PeoplePage })));
export const SignIn = lazy(() => loadSign().then((loaded) => ({ default: loaded.SignIn })));
export const JoinPage = lazy(() => loadJoin().then((loaded) => ({ default: loaded.JoinPage })));

export const loadPeople = () => {
  fetchWhenIdle([load]);
};

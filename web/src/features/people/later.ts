import { fetchWhenIdle, later } from "../../components/later";

const load = () => import("./PeoplePage");
const loadSign = () => import("./SignIn");
const loadJoin = () => import("./JoinPage");

/** Who may come in is looked at rarely: its pages come after the first one. */
export const PeoplePage = later(load, "PeoplePage");
export const SignIn = later(loadSign, "SignIn");
export const JoinPage = later(loadJoin, "JoinPage");

export const loadPeople = () => {
  fetchWhenIdle([load]);
};

import { fetchWhenIdle, later } from "../../components/later";

const load = () => import("./SchedulePage");

/** The schedule comes after the first page, so that it is there sooner. */
export const SchedulePage = later(load, "SchedulePage");

export const loadSchedule = () => {
  fetchWhenIdle([load]);
};

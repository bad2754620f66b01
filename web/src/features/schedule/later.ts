import { lazy } from "react";
import { fetchWhenIdle } from "../../components/idle";

const load = () => import("./SchedulePage");

/** The schedule comes after the first page, so that it is there sooner. */
export const SchedulePage = lazy(() => load().then((loaded) => ({ default: loaded.SchedulePage })));

export const loadSchedule = () => {
  fetchWhenIdle([load]);
};

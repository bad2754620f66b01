import { fetchWhenIdle, later } from "../../components/later";

const load = () => import("./DryersPage");

/** Dryers are set side by side now and then: their page comes after the first one. */
export const DryersPage = later(load, "DryersPage");

export const loadDryers = () => {
  fetchWhenIdle([load]);
};

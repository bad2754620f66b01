import { lazy } from "react";

const loadCase = () => import("./CaseRoom");
const loadCases = () => import("./CasesRoom");
const loadSheet = () => import("./CaseSheet");
const loadPrints = () => import("./PrintsRoom");
const loadPractice = () => import("./PracticeRoom");
const loadTable = () => import("./TableRoom");
const loadOpening = () => import("./OpenCaseSlip");

/** The rooms of cases come after the first page, so that it is there sooner. */
export const CaseRoom = lazy(() => loadCase().then((it) => ({ default: it.CaseRoom })));
export const CasesRoom = lazy(() => loadCases().then((it) => ({ default: it.CasesRoom })));
export const CaseSheet = lazy(() => loadSheet().then((it) => ({ default: it.CaseSheet })));
export const PrintsRoom = lazy(() => loadPrints().then((it) => ({ default: it.PrintsRoom })));
export const PracticeRoom = lazy(() => loadPractice().then((it) => ({ default: it.PracticeRoom })));
export const TableRoom = lazy(() => loadTable().then((it) => ({ default: it.TableRoom })));
export const OpenCaseSlip = lazy(() => loadOpening().then((it) => ({ default: it.OpenCaseSlip })));

/** Fetch them while nothing else is to do, so that they open at once and also once the server is away. */
export function loadLater() {
  const load = () => {
    for (const it of [loadCases, loadCase, loadOpening, loadSheet, loadPrints, loadPractice, loadTable]) {
      it().catch(() => undefined); // asked for again when the room is opened
    }
  };
  if ("requestIdleCallback" in window) requestIdleCallback(load, { timeout: 10_000 });
  else setTimeout(load, 3000);
}

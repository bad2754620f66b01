import { lazy } from "react";

const loadCase = () => import("./CasePage");
const loadCases = () => import("./CasesPage");
const loadSheet = () => import("./CaseSheet");
const loadPrints = () => import("./PrintsPage");
const loadPractice = () => import("./PracticePage");
const loadTable = () => import("./EvidenceTablePage");
const loadOpening = () => import("./OpenCaseSlip");

/** The rooms of cases come after the first page, so that it is there sooner. */
export const CasePage = lazy(() => loadCase().then((it) => ({ default: it.CasePage })));
export const CasesPage = lazy(() => loadCases().then((it) => ({ default: it.CasesPage })));
export const CaseSheet = lazy(() => loadSheet().then((it) => ({ default: it.CaseSheet })));
export const PrintsPage = lazy(() => loadPrints().then((it) => ({ default: it.PrintsPage })));
export const PracticePage = lazy(() => loadPractice().then((it) => ({ default: it.PracticePage })));
export const EvidenceTablePage = lazy(() => loadTable().then((it) => ({ default: it.EvidenceTablePage })));
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

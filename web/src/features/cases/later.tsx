import { lazy } from "react";
import { fetchWhenIdle } from "../../components/idle";

const loadCase = () => import("./CasePage");
const loadCases = () => import("./CasesPage");
const loadSheet = () => import("./CaseSheet");
const loadPrints = () => import("./PrintsPage");
const loadPractice = () => import("./PracticePage");
const loadTable = () => import("./EvidenceTablePage");
const loadOpening = () => import("./OpenCaseSlip");

/** The pages of cases come after the first page, so that it is there sooner. */
export const CasePage = lazy(() => loadCase().then((loaded) => ({ default: loaded.CasePage })));
export const CasesPage = lazy(() => loadCases().then((loaded) => ({ default: loaded.CasesPage })));
export const CaseSheet = lazy(() => loadSheet().then((loaded) => ({ default: loaded.CaseSheet })));
export const PrintsPage = lazy(() => loadPrints().then((loaded) => ({ default: loaded.PrintsPage })));
export const PracticePage = lazy(() => loadPractice().then((loaded) => ({ default: loaded.PracticePage })));
export const EvidenceTablePage = lazy(() =>
  loadTable().then((loaded) => ({ default: loaded.EvidenceTablePage })),
);
export const OpenCaseSlip = lazy(() => loadOpening().then((loaded) => ({ default: loaded.OpenCaseSlip })));

export const loadLater = () => {
  fetchWhenIdle([loadCases, loadCase, loadOpening, loadSheet, loadPrints, loadPractice, loadTable]);
};

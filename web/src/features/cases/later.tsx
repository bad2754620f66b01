import { fetchWhenIdle, later } from "../../components/later";

const loadCase = () => import("./CasePage");
const loadCases = () => import("./CasesPage");
const loadSheet = () => import("./CaseSheet");
const loadPrints = () => import("./PrintsPage");
const loadPractice = () => import("./PracticePage");
const loadTable = () => import("./EvidenceTablePage");
const loadOpening = () => import("./OpenCaseSlip");

/** The pages of cases come after the first page, so that it is there sooner. */
export const CasePage = later(loadCase, "CasePage");
export const CasesPage = later(loadCases, "CasesPage");
export const CaseSheet = later(loadSheet, "CaseSheet");
export const PrintsPage = later(loadPrints, "PrintsPage");
export const PracticePage = later(loadPractice, "PracticePage");
export const EvidenceTablePage = later(loadTable, "EvidenceTablePage");
export const OpenCaseSlip = later(loadOpening, "OpenCaseSlip");

export const loadLater = () => {
  fetchWhenIdle([loadCases, loadCase, loadOpening, loadSheet, loadPrints, loadPractice, loadTable]);
};

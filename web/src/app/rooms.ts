import { fetchWhenIdle, later } from "../components/later";

/** What comes after the first page, so that that one is there sooner: every room but the rack, and rare slips. In the
 * order in which they are fetched once nothing else is to do. */
const loads = {
  weigh: () => import("../features/weighing/WeighSlip"),
  spool: () => import("../features/spools/SpoolPage"),
  plan: () => import("../features/plan/PlanPage"),
  runs: () => import("../features/runs/RunsPage"),
  run: () => import("../features/runs/RunPage"),
  storage: () => import("../features/storage/StoragePage"),
  cases: () => import("../features/cases/CasesPage"),
  case: () => import("../features/cases/CasePage"),
  opening: () => import("../features/cases/OpenCaseSlip"),
  schedule: () => import("../features/schedule/SchedulePage"),
  trials: () => import("../features/trials/TrialsPage"),
  newTrial: () => import("../features/trials/NewTrialPage"),
  trial: () => import("../features/trials/TrialPage"),
  equipment: () => import("../features/equipment/EquipmentPage"),
  dryers: () => import("../features/dryers/DryersPage"),
  materials: () => import("../features/materials/MaterialsPage"),
  history: () => import("../features/history/HistoryPage"),
  labels: () => import("../features/spools/LabelsPage"),
  caseSheet: () => import("../features/cases/CaseSheet"),
  prints: () => import("../features/cases/PrintsPage"),
  practice: () => import("../features/cases/PracticePage"),
  evidenceTable: () => import("../features/cases/EvidenceTablePage"),
  importSpools: () => import("../features/spools/ImportPage"),
  importWeighings: () => import("../features/weighing/ImportWeighingsPage"),
  importRuns: () => import("../features/runs/ImportRunsPage"),
  emptySpools: () => import("../features/emptySpools/EmptySpoolsPage"),
  newSpool: () => import("../features/spools/NewSpool"),
  preferences: () => import("../features/settings/PreferencesSlip"),
  backups: () => import("../features/settings/BackupSlip"),
  people: () => import("../features/people/PeoplePage"),
  scan: () => import("../features/scan/ScanPage"),
};

export const WeighSlip = later(loads.weigh, "WeighSlip");
export const SpoolPage = later(loads.spool, "SpoolPage");
export const PlanPage = later(loads.plan, "PlanPage");
export const RunsPage = later(loads.runs, "RunsPage");
export const RunPage = later(loads.run, "RunPage");
export const StoragePage = later(loads.storage, "StoragePage");
export const CasesPage = later(loads.cases, "CasesPage");
export const CasePage = later(loads.case, "CasePage");
export const OpenCaseSlip = later(loads.opening, "OpenCaseSlip");
export const SchedulePage = later(loads.schedule, "SchedulePage");
export const TrialsPage = later(loads.trials, "TrialsPage");
export const NewTrialPage = later(loads.newTrial, "NewTrialPage");
export const TrialPage = later(loads.trial, "TrialPage");
export const EquipmentPage = later(loads.equipment, "EquipmentPage");
export const DryersPage = later(loads.dryers, "DryersPage");
export const MaterialsPage = later(loads.materials, "MaterialsPage");
export const HistoryPage = later(loads.history, "HistoryPage");
export const LabelsPage = later(loads.labels, "LabelsPage");
export const CaseSheet = later(loads.caseSheet, "CaseSheet");
export const PrintsPage = later(loads.prints, "PrintsPage");
export const PracticePage = later(loads.practice, "PracticePage");
export const EvidenceTablePage = later(loads.evidenceTable, "EvidenceTablePage");
export const ImportPage = later(loads.importSpools, "ImportPage");
export const ImportWeighingsPage = later(loads.importWeighings, "ImportWeighingsPage");
export const ImportRunsPage = later(loads.importRuns, "ImportRunsPage");
export const EmptySpoolsPage = later(loads.emptySpools, "EmptySpoolsPage");
export const PreferencesSlip = later(loads.preferences, "PreferencesSlip");
export const BackupSlip = later(loads.backups, "BackupSlip");
export const PeoplePage = later(loads.people, "PeoplePage");
export const ScanPage = later(loads.scan, "ScanPage");

/** Looked at by others than those who are in, or by hardly anybody: fetched when it is opened. */
export const ContractPage = later(() => import("../features/contract/ContractPage"), "ContractPage");
export const SignIn = later(() => import("../features/people/SignIn"), "SignIn");
export const JoinPage = later(() => import("../features/people/JoinPage"), "JoinPage");

export const fetchRooms = () => {
  fetchWhenIdle(Object.values(loads));
};

import { fetchWhenIdle, later } from "../components/later";

/** What comes after the first page, so that that one is there sooner: every room but the rack, and the slips but
 * Weigh, whose first digits must not be lost. Reading codes takes a large library of its own. */
const rest = () => import("./rest");
const scan = () => import("../features/scan/ScanPage");

export const SpoolPage = later(rest, "SpoolPage");
export const PlanPage = later(rest, "PlanPage");
export const RunsPage = later(rest, "RunsPage");
export const RunPage = later(rest, "RunPage");
export const StoragePage = later(rest, "StoragePage");
export const CasesPage = later(rest, "CasesPage");
export const CasePage = later(rest, "CasePage");
export const OpenCaseSlip = later(rest, "OpenCaseSlip");
export const SchedulePage = later(rest, "SchedulePage");
export const TrialsPage = later(rest, "TrialsPage");
export const NewTrialPage = later(rest, "NewTrialPage");
export const TrialPage = later(rest, "TrialPage");
export const EquipmentPage = later(rest, "EquipmentPage");
export const DryersPage = later(rest, "DryersPage");
export const MaterialsPage = later(rest, "MaterialsPage");
export const HistoryPage = later(rest, "HistoryPage");
export const LabelsPage = later(rest, "LabelsPage");
export const CaseSheet = later(rest, "CaseSheet");
export const PrintsPage = later(rest, "PrintsPage");
export const PracticePage = later(rest, "PracticePage");
export const EvidenceTablePage = later(rest, "EvidenceTablePage");
export const ImportPage = later(rest, "ImportPage");
export const ImportWeighingsPage = later(rest, "ImportWeighingsPage");
export const ImportRunsPage = later(rest, "ImportRunsPage");
export const EmptySpoolsPage = later(rest, "EmptySpoolsPage");
export const PreferencesSlip = later(rest, "PreferencesSlip");
export const BackupSlip = later(rest, "BackupSlip");
export const PeoplePage = later(rest, "PeoplePage");
export const NewSpool = later(rest, "NewSpool");
export const FirstWorkshop = later(rest, "FirstWorkshop");
export const ContractPage = later(rest, "ContractPage");
export const ScanPage = later(scan, "ScanPage");

/** For whoever is not in yet. */
export const SignIn = later(() => import("../features/people/SignIn"), "SignIn");
export const JoinPage = later(() => import("../features/people/JoinPage"), "JoinPage");

/** All but the codes’ library, which few open and the service worker has at hand. */
export const fetchRooms = () => {
  fetchWhenIdle(rest);
};

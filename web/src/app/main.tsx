import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { type ComponentType, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { StoragePage } from "../features/storage/StoragePage";
import {
  CasePage,
  CaseSheet,
  CasesPage,
  loadLater,
  PracticePage,
  PrintsPage,
  EvidenceTablePage,
} from "../features/cases/later";
import { EquipmentPage } from "../features/equipment/EquipmentPage";
import { HistoryPage } from "../features/history/HistoryPage";
import { LabelsPage } from "../features/spools/LabelsPage";
import { ImportPage, loadImport } from "../features/spools/later";
import { MaterialsPage } from "../features/materials/MaterialsPage";
import { PlanPage } from "../features/plan/PlanPage";
import { RackPage } from "../features/rack/RackPage";
import { RunPage } from "../features/runs/RunPage";
import { RunsPage } from "../features/runs/RunsPage";
import { loadSchedule, SchedulePage } from "../features/schedule/later";
import { loadTrials, NewTrialPage, TrialPage, TrialsPage } from "../features/trials/later";
import { ContractPage } from "../features/contract/later";
import { loadScan, ScanPage } from "../features/scan/later";
import { SpoolPage } from "../features/spools/SpoolPage";
import { ImportWeighingsPage, loadImportWeighings } from "../features/weighing/later";
import { DryersPage, loadDryers } from "../features/dryers/later";
import { EmptySpoolsPage, loadEmptySpools } from "../features/emptySpools/later";
import { ImportRunsPage, loadImportRuns } from "../features/runs/later";
import { JoinPage, loadPeople, PeoplePage } from "../features/people/later";
import { ApiError } from "../api/client";
import { keepLastKnown } from "../api/lastKnown";
import { Entrance } from "./Entrance";
import { applyTheme } from "./theme";
import { useUnits } from "./units";
import "./styles.css";

applyTheme();
loadLater();
loadSchedule();
loadTrials();
loadImport();
loadImportWeighings();
loadImportRuns();
loadEmptySpools();
loadDryers();
loadPeople();
loadScan();
const REFUSED = [401, 403];
const queries = new QueryClient({
  defaultOptions: {
    // A request that cannot go out fails at once, and what was typed is kept: it does not wait unseen for a network.
    mutations: { networkMode: "always" },
    queries: {
      networkMode: "always",
      retry: (failed, error) => failed < 1 && !(error instanceof ApiError && REFUSED.includes(error.status)),
    },
  },
});
if (import.meta.env.PROD) keepLastKnown(() => void queries.invalidateQueries());
const root = document.getElementById("root");
if (!root) throw new Error("The page has no root element.");

/** A page, drawn again when the person's units change; what is typed on it stays. */
function Page({ of: Content }: { of: ComponentType }) {
  useUnits();
  return <Content />;
}

createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <Routes>
          <Route
            path="join"
            element={
              <Suspense>
                <JoinPage />
              </Suspense>
            }
          />
          <Route element={<Entrance />}>
            <Route index element={<Page of={RackPage} />} />
            <Route path="plan" element={<Page of={PlanPage} />} />
            <Route path="schedule" element={<Page of={SchedulePage} />} />
            <Route path="cases" element={<Page of={CasesPage} />} />
            <Route path="cases/prints" element={<Page of={PrintsPage} />} />
            <Route path="cases/practice" element={<Page of={PracticePage} />} />
            <Route path="cases/table" element={<Page of={EvidenceTablePage} />} />
            <Route path="cases/:id" element={<Page of={CasePage} />} />
            <Route path="cases/:id/sheet" element={<Page of={CaseSheet} />} />
            <Route path="storage" element={<Page of={StoragePage} />} />
            <Route path="spools/import" element={<Page of={ImportPage} />} />
            <Route path="weighings/import" element={<Page of={ImportWeighingsPage} />} />
            <Route path="labels" element={<Page of={LabelsPage} />} />
            <Route path="spools/:id" element={<Page of={SpoolPage} />} />
            <Route path="trials" element={<Page of={TrialsPage} />} />
            <Route path="trials/new" element={<Page of={NewTrialPage} />} />
            <Route path="trials/:id" element={<Page of={TrialPage} />} />
            <Route path="kit" element={<Page of={EquipmentPage} />} />
            <Route path="people" element={<Page of={PeoplePage} />} />
            <Route path="programs" element={<Page of={ContractPage} />} />
            <Route path="scan" element={<Page of={ScanPage} />} />
            <Route path="history" element={<Page of={HistoryPage} />} />
            <Route path="materials" element={<Page of={MaterialsPage} />} />
            <Route path="runs" element={<Page of={RunsPage} />} />
            <Route path="kit/dryers" element={<Page of={DryersPage} />} />
            <Route path="kit/empty-spools" element={<Page of={EmptySpoolsPage} />} />
            <Route path="runs/import" element={<Page of={ImportRunsPage} />} />
            <Route path="runs/:id" element={<Page of={RunPage} />} />
            <Route path="*" element={<Navigate to="/" replace />} />
          </Route>
        </Routes>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);

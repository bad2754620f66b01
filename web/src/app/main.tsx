import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { type ComponentType, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { RackPage } from "../features/rack/RackPage";
import { ApiError } from "../api/client";
import { keepLastKnown } from "../api/lastKnown";
import { Entrance } from "./Entrance";
import {
  fetchRooms,
  CasePage,
  CaseSheet,
  CasesPage,
  ContractPage,
  DryersPage,
  EmptySpoolsPage,
  EquipmentPage,
  EvidenceTablePage,
  HistoryPage,
  ImportPage,
  ImportRunsPage,
  ImportWeighingsPage,
  JoinPage,
  LabelsPage,
  MaterialsPage,
  NewTrialPage,
  PeoplePage,
  PlanPage,
  PracticePage,
  PrintsPage,
  RunPage,
  RunsPage,
  ScanPage,
  SchedulePage,
  SpoolPage,
  StoragePage,
  TrialPage,
  TrialsPage,
} from "./rooms";
import { applyTheme } from "./theme";
import { useUnits } from "./units";
import "./styles.css";

applyTheme();
fetchRooms();
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

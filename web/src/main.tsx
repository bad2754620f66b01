import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { KeepRoom } from "./rooms/keep/KeepRoom";
import {
  CaseRoom,
  CaseSheet,
  CasesRoom,
  loadLater,
  PracticeRoom,
  PrintsRoom,
  TableRoom,
} from "./rooms/cases/later";
import { KitRoom } from "./rooms/kit/KitRoom";
import { LabelsRoom } from "./rooms/labels/LabelsRoom";
import { MaterialsRoom } from "./rooms/materials/MaterialsRoom";
import { PlanRoom } from "./rooms/plan/PlanRoom";
import { RackRoom } from "./rooms/rack/RackRoom";
import { RunRoom } from "./rooms/runs/RunRoom";
import { RunsRoom } from "./rooms/runs/RunsRoom";
import { SpoolRoom } from "./rooms/spool/SpoolRoom";
import { Shell } from "./shell/Shell";
import { applyTheme } from "./shell/theme";
import "./styles.css";

applyTheme();
loadLater();
const queries = new QueryClient({ defaultOptions: { queries: { retry: 1 } } });
const root = document.getElementById("root");
if (!root) throw new Error("The page has no root element.");

createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <Routes>
          <Route element={<Shell />}>
            <Route index element={<RackRoom />} />
            <Route path="plan" element={<PlanRoom />} />
            <Route path="cases" element={<CasesRoom />} />
            <Route path="cases/prints" element={<PrintsRoom />} />
            <Route path="cases/practice" element={<PracticeRoom />} />
            <Route path="cases/table" element={<TableRoom />} />
            <Route path="cases/:id" element={<CaseRoom />} />
            <Route path="cases/:id/sheet" element={<CaseSheet />} />
            <Route path="keep" element={<KeepRoom />} />
            <Route path="labels" element={<LabelsRoom />} />
            <Route path="spools/:id" element={<SpoolRoom />} />
            <Route path="kit" element={<KitRoom />} />
            <Route path="materials" element={<MaterialsRoom />} />
            <Route path="runs" element={<RunsRoom />} />
            <Route path="runs/:id" element={<RunRoom />} />
            <Route path="*" element={<Navigate to="/" replace />} />
          </Route>
        </Routes>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);

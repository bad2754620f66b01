import type { QueryClient } from "@tanstack/react-query";
import { useAct } from "../../api/act";
import { type CaseFacts, client, type Side, unwrap } from "../../api/client";
import { MOISTURE, keys, type Key } from "../../api/keys";
import type { components } from "../../api/schema";
import { limits, send, type Sending } from "../../api/upload";

type Schemas = components["schemas"];

/** Where a material's thresholds show: closed cases move them. */
const THRESHOLDS: Key[] = [keys.materials, ...MOISTURE];

interface OfCase {
  id: number;
}
const caseKeys = ({ id }: OfCase): Key[] => [keys.cases, keys.caseRecord(id)];

/** New evidence opens a closed case again, which takes back what it taught of the thresholds. */
const evidenceKeys = ({ id }: OfCase, queries: QueryClient): Key[] => {
  const open = queries.getQueryData<CaseFacts>(keys.caseRecord(id))?.case.is_open ?? false;
  return open ? caseKeys({ id }) : [...caseKeys({ id }), ...THRESHOLDS];
};

const of = (id: number) => ({ params: { path: { case_id: id } } });

export const useOpenCase = () =>
  useAct((body: Schemas["OpenCaseRequest"]) => unwrap(client.POST("/api/cases/", { body })), {
    refreshes: [keys.cases, keys.prints, keys.caseRecords],
  });

export const useChangeCase = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["PatchedChangeCaseRequest"] }) =>
      unwrap(client.PATCH("/api/cases/{case_id}/", { ...of(id), body })),
    { refreshes: caseKeys },
  );

/** `onGone` leaves the case's page before all is asked for again: there is nothing at its address any more. */
export const useRemoveCase = (onGone: (undo: number | null) => void) =>
  useAct(
    async (id: number) => {
      const done = await unwrap(client.DELETE("/api/cases/{case_id}/", of(id)));
      onGone(done.undo);
      return done;
    },
    { refreshes: [keys.cases, keys.prints, ...THRESHOLDS] },
  );

export const useNoteSigns = () =>
  useAct(
    ({ id, signs }: { id: number; signs: Schemas["NotedSignRequest"][] }) =>
      unwrap(client.POST("/api/cases/{case_id}/signs/", { ...of(id), body: { signs, note: "" } })),
    { refreshes: evidenceKeys },
  );

export const useAddOwn = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["WriteOwnRequest"] }) =>
      unwrap(client.POST("/api/cases/{case_id}/own/", { ...of(id), body })),
    { refreshes: evidenceKeys },
  );

export const useRemoveOwn = () =>
  useAct(
    (id: number) =>
      unwrap(client.DELETE("/api/own-observations/{own_id}/", { params: { path: { own_id: id } } })),
    { refreshes: [keys.cases, keys.caseRecords, ...THRESHOLDS] },
  );

export const useCaliper = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["WriteCaliperRequest"] }) =>
      unwrap(client.PUT("/api/cases/{case_id}/caliper/", { ...of(id), body })),
    { refreshes: evidenceKeys },
  );

export const useRate = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["WriteRatingsRequest"] }) =>
      unwrap(client.PUT("/api/cases/{case_id}/ratings/", { ...of(id), body })),
    { refreshes: caseKeys },
  );

export const useNoteStrength = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["WriteStrengthRequest"] }) =>
      unwrap(client.PUT("/api/cases/{case_id}/strength/", { ...of(id), body })),
    { refreshes: caseKeys },
  );

export const useCloseCase = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["WriteVerdictRequest"] }) =>
      unwrap(client.POST("/api/cases/{case_id}/verdict/", { ...of(id), body })),
    { refreshes: ({ id }) => [keys.cases, keys.caseRecord(id), ...THRESHOLDS] },
  );

export const useReopenCase = () =>
  useAct((id: number) => unwrap(client.DELETE("/api/cases/{case_id}/verdict/", of(id))), {
    refreshes: (id) => [keys.cases, keys.caseRecord(id), ...THRESHOLDS],
  });

export const useAddPhoto = () =>
  useAct(
    async ({ id, side, ...sending }: Sending & { id: number; side: Side }) =>
      send<Schemas["SavedPhoto"]>(
        `/api/cases/${id}/photos/?side=${side}`,
        (await limits()).photo_bytes,
        sending,
      ),
    { refreshes: caseKeys },
  );

export const useRemovePhoto = () =>
  useAct(
    (id: number) => unwrap(client.DELETE("/api/photos/{photo_id}/", { params: { path: { photo_id: id } } })),
    { refreshes: [keys.caseRecords] },
  );

export const useReadFile = () =>
  useAct(
    async (sending: Sending) =>
      send<Schemas["ReadFile"]>("/api/print-files/?", (await limits()).print_file_bytes, sending),
    {
      refreshes: [],
    },
  );

export const useAddPrint = () =>
  useAct((body: Schemas["WritePrintRequest"]) => unwrap(client.POST("/api/prints/", { body })), {
    refreshes: [keys.prints, ...MOISTURE],
  });

export const useRemovePrint = () =>
  useAct(
    (id: number) => unwrap(client.DELETE("/api/prints/{print_id}/", { params: { path: { print_id: id } } })),
    { refreshes: [keys.prints, ...MOISTURE] },
  );

export const useSetChance = () =>
  useAct((body: Schemas["WriteChanceRequest"]) => unwrap(client.PUT("/api/evidence/", { body })), {
    refreshes: [keys.evidence, keys.practice, keys.cases, keys.caseRecords],
  });

export const useBeginPractice = () =>
  useAct((budget_min: number) => unwrap(client.POST("/api/practice/", { body: { budget_min } })), {
    refreshes: [keys.practice],
  });

const round = (id: number) => ({ params: { path: { round_id: id } } });

export const usePracticeCheck = () =>
  useAct(
    ({ id, check }: { id: number; check: Schemas["CheckEnum"] }) =>
      unwrap(client.POST("/api/practice/{round_id}/checks/", { ...round(id), body: { check } })),
    { refreshes: [keys.practice] },
  );

export const useAnswerPractice = () =>
  useAct(
    ({ id, chance_pct }: { id: number; chance_pct: string }) =>
      unwrap(client.POST("/api/practice/{round_id}/answer/", { ...round(id), body: { chance_pct } })),
    { refreshes: [keys.practice] },
  );

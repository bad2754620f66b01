import type { QueryClient } from "@tanstack/react-query";
import { useAct } from "../../api/act";
import { ACT, client, type RunSheet, unwrap } from "../../api/client";
import { MOISTURE, keys } from "../../api/keys";
import type { components } from "../../api/schema";

type Schemas = components["schemas"];

export const useEndRun = () =>
  useAct(
    ({ run, ...body }: Schemas["EndRunRequest"] & { run: number }) =>
      unwrap(client.POST("/api/runs/{run_id}/end/", { params: { path: { run_id: run } }, body })),
    { refreshes: MOISTURE },
  );

export const useNoteEvent = () =>
  useAct(
    ({ run, body, key }: { run: number; body: Schemas["WriteEventRequest"]; key: string }) =>
      unwrap(
        client.POST("/api/runs/{run_id}/events/", {
          params: { path: { run_id: run } },
          body,
          headers: { [ACT]: key },
        }),
      ),
    { refreshes: MOISTURE, takes: takeEvents },
  );

export const useRemoveEvent = () =>
  useAct(
    ({ id }: { id: number; run: number }) =>
      unwrap(client.DELETE("/api/run-events/{event_id}/", { params: { path: { event_id: id } } })),
    { refreshes: MOISTURE, takes: takeEvents },
  );

/** What has happened in a run is shown at once; what it means for its water is asked for. */
function takeEvents(
  queries: QueryClient,
  { paused, events }: Schemas["EventsNow"],
  { run }: { run: number },
) {
  queries.setQueryData<RunSheet>(keys.run(run), (sheet) => sheet && { ...sheet, paused, events });
}

export const useNoteEnergy = () =>
  useAct(
    ({ run, body }: { run: number; body: Schemas["EnergyRequest"] }) =>
      unwrap(client.PUT("/api/runs/{run_id}/energy/", { params: { path: { run_id: run } }, body })),
    { refreshes: ({ run }) => [keys.run(run), keys.runs] },
  );

/** What a dryer does moves every plan in it. */
export const useUseHabits = () =>
  useAct(
    (run: number) => unwrap(client.POST("/api/runs/{run_id}/habits/", { params: { path: { run_id: run } } })),
    { refreshes: [keys.dryers, ...MOISTURE] },
  );

/** How slowly a spool warms through moves what its run is judged by. */
export const useWindingProbe = () =>
  useAct(
    ({ run, device }: { run: number; device: number | null }) =>
      unwrap(
        client.PUT("/api/runs/{run_id}/winding-probe/", {
          params: { path: { run_id: run } },
          body: { device },
        }),
      ),
    { refreshes: ({ run }) => [keys.run(run), keys.runs] },
  );

export const useNoteAir = () =>
  useAct(
    ({ run, body }: { run: number; body: Schemas["NoteAirRequest"] }) =>
      unwrap(client.POST("/api/runs/{run_id}/air/", { params: { path: { run_id: run } }, body })),
    { refreshes: ({ run }) => [keys.runAir(run), keys.runHabits(run)] },
  );

export const useRemoveAir = () =>
  useAct(
    ({ id }: { id: number; run: number }) =>
      unwrap(client.DELETE("/api/air-readings/{reading_id}/", { params: { path: { reading_id: id } } })),
    { refreshes: ({ run }) => [keys.runAir(run), keys.runHabits(run)] },
  );

export const useChangeRun = () =>
  useAct(
    ({ run, body }: { run: number; body: Schemas["ChangeRunRequest"] }) =>
      unwrap(client.POST("/api/runs/{run_id}/change/", { params: { path: { run_id: run } }, body })),
    { refreshes: MOISTURE },
  );

export const useAddPastRuns = () =>
  useAct((body: Schemas["PastedRunsRequest"]) => unwrap(client.POST("/api/runs/table/", { body })), {
    refreshes: MOISTURE,
  });

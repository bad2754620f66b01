import { useMutation, useQueryClient } from "@tanstack/react-query";
import { client, unwrap } from "./client";
import type { Span } from "./queries";
import type { components } from "./schema";

type Schemas = components["schemas"];
export type Reading = Schemas["ReadingRequest"];

/** Every act may change lanes, plans and runs: all that is on the screen is asked for again. What was asked for the
 * first time before the act and has not come yet is let go: it would be kept as fresh. */
export function useAct<Given, Answer>(act: (given: Given) => Promise<Answer>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: act,
    onSuccess: async () => {
      await queries.cancelQueries();
      await queries.invalidateQueries();
    },
    retry: false,
  });
}

export const useKeepWeighing = () =>
  useAct((body: Schemas["KeepWeighingRequest"]) => unwrap(client.POST("/api/weighings/", { body })));

export const useStartRun = () =>
  useAct((body: Schemas["StartRunRequest"]) => unwrap(client.POST("/api/plan/start/", { body })));

export const useEndRun = () =>
  useAct(({ run, ...body }: Schemas["EndRunRequest"] & { run: number }) =>
    unwrap(client.POST("/api/runs/{run_id}/end/", { params: { path: { run_id: run } }, body })),
  );

export const useNoteEvent = () =>
  useAct(({ run, body }: { run: number; body: Schemas["WriteEventRequest"] }) =>
    unwrap(client.POST("/api/runs/{run_id}/events/", { params: { path: { run_id: run } }, body })),
  );

export const useRemoveEvent = () =>
  useAct((id: number) =>
    unwrap(client.DELETE("/api/run-events/{event_id}/", { params: { path: { event_id: id } } })),
  );

export const useNoteEnergy = () =>
  useAct(({ run, body }: { run: number; body: Schemas["EnergyRequest"] }) =>
    unwrap(client.PUT("/api/runs/{run_id}/energy/", { params: { path: { run_id: run } }, body })),
  );

export const useUndo = () =>
  useAct((line: number) =>
    unwrap(client.POST("/api/history/{line_id}/undo/", { params: { path: { line_id: line } } })),
  );

export const useAddDryer = () =>
  useAct((body: Schemas["WriteDryerRequest"]) => unwrap(client.POST("/api/dryers/", { body })));

export const useChangeDryer = () =>
  useAct(({ id, body }: { id: number; body: Schemas["WriteDryerRequest"] }) =>
    unwrap(client.PUT("/api/dryers/{dryer_id}/", { params: { path: { dryer_id: id } }, body })),
  );

export const useRemoveDryer = () =>
  useAct((id: number) =>
    unwrap(client.DELETE("/api/dryers/{dryer_id}/", { params: { path: { dryer_id: id } } })),
  );

/** Moves spools, and lays their new lanes over the racks that are on the screen before all is asked for again. */
export function useMoveSpools() {
  const queries = useQueryClient();
  return useAct(async (body: Schemas["MoveRequest"]) => {
    const done = await unwrap(client.POST("/api/stays/", { body }));
    const racks = queries.getQueriesData<Schemas["Rack"]>({ queryKey: ["rack"] });
    for (const [key, rack] of racks) {
      if (!rack) continue;
      const fresh = await Promise.all(
        body.spools.map((spool) =>
          unwrap(client.GET("/api/rack/", { params: { query: { span: key[1] as Span, spool } } })),
        ),
      );
      const moved = new Map(fresh.flatMap((it) => it.lanes).map((it) => [it.lane.spool.id, it]));
      queries.setQueryData(key, {
        ...rack,
        lanes: rack.lanes.map((it) => moved.get(it.lane.spool.id) ?? it),
      });
    }
    return done;
  });
}

export const useCorrectStay = () =>
  useAct(({ id, body }: { id: number; body: Schemas["CorrectStayRequest"] }) =>
    unwrap(client.PUT("/api/stays/{stay_id}/", { params: { path: { stay_id: id } }, body })),
  );

export const useRemoveStay = () =>
  useAct((id: number) =>
    unwrap(client.DELETE("/api/stays/{stay_id}/", { params: { path: { stay_id: id } } })),
  );

export const useAddSpool = () =>
  useAct((body: Schemas["NewSpoolRequest"]) => unwrap(client.POST("/api/spools/", { body })));

export const useChangeSpool = () =>
  useAct(({ id, body }: { id: number; body: Schemas["WriteSpoolRequest"] }) =>
    unwrap(client.PUT("/api/spools/{spool_id}/", { params: { path: { spool_id: id } }, body })),
  );

export const useAddBody = () =>
  useAct((body: Schemas["WriteBodyRequest"]) => unwrap(client.POST("/api/bodies/", { body })));

export const useNoteMoisture = () =>
  useAct(({ spool, body }: { spool: number; body: Schemas["MoistureRequest"] }) =>
    unwrap(client.POST("/api/spools/{spool_id}/moisture/", { params: { path: { spool_id: spool } }, body })),
  );

export const useUseStrand = () =>
  useAct(({ spool, body }: { spool: number; body: Schemas["UseRequest"] }) =>
    unwrap(client.POST("/api/spools/{spool_id}/uses/", { params: { path: { spool_id: spool } }, body })),
  );

export const useAddPlace = () =>
  useAct((body: Schemas["WritePlaceRequest"]) => unwrap(client.POST("/api/places/", { body })));

export const useChangePlace = () =>
  useAct(({ id, body }: { id: number; body: Schemas["WritePlaceRequest"] }) =>
    unwrap(client.PUT("/api/places/{place_id}/", { params: { path: { place_id: id } }, body })),
  );

export const useRemovePlace = () =>
  useAct((id: number) =>
    unwrap(client.DELETE("/api/places/{place_id}/", { params: { path: { place_id: id } } })),
  );

export const useFillPlace = () =>
  useAct(({ id, body }: { id: number; body: Schemas["WriteFillRequest"] }) =>
    unwrap(client.POST("/api/places/{place_id}/fills/", { params: { path: { place_id: id } }, body })),
  );

export const useWeighPack = () =>
  useAct(({ id, body }: { id: number; body: Schemas["WritePackRequest"] }) =>
    unwrap(client.POST("/api/fills/{fill_id}/weighings/", { params: { path: { fill_id: id } }, body })),
  );

export const useNoteAir = () =>
  useAct((body: Schemas["WriteRoomAirRequest"]) => unwrap(client.POST("/api/room/readings/", { body })));

export const useSetMonths = () =>
  useAct((body: Schemas["MonthsRequest"]) => unwrap(client.PUT("/api/room/months/", { body })));

export const useFirstRun = () =>
  useAct((body: Schemas["FirstRunRequest"]) => unwrap(client.POST("/api/first-run/", { body })));

export const useAddScale = () =>
  useAct((body: Schemas["WriteScaleRequest"]) => unwrap(client.POST("/api/scales/", { body })));

export const useRemoveScale = () =>
  useAct((id: number) =>
    unwrap(client.DELETE("/api/scales/{scale_id}/", { params: { path: { scale_id: id } } })),
  );

export const useAddDevice = () =>
  useAct((body: Schemas["WriteDeviceRequest"]) => unwrap(client.POST("/api/devices/", { body })));

export const useRemoveDevice = () =>
  useAct((id: number) =>
    unwrap(client.DELETE("/api/devices/{device_id}/", { params: { path: { device_id: id } } })),
  );

export const useRenewToken = () =>
  useAct((id: number) =>
    unwrap(client.POST("/api/devices/{device_id}/token/", { params: { path: { device_id: id } } })),
  );

/** Looking stores nothing, so nothing on the screen changes by it. */
export const useLookIntoFile = () =>
  useMutation({
    mutationFn: (body: Schemas["LookRequest"]) => unwrap(client.POST("/api/logger-files/look/", { body })),
    retry: false,
  });

export const useImportFile = () =>
  useAct((body: Schemas["ImportRequest"]) => unwrap(client.POST("/api/logger-files/", { body })));

export const useAddProbe = () =>
  useAct(({ id, body }: { id: number; body: Schemas["WriteProbeRequest"] }) =>
    unwrap(client.POST("/api/dryers/{dryer_id}/probes/", { params: { path: { dryer_id: id } }, body })),
  );

export const useRemoveProbe = () =>
  useAct((id: number) =>
    unwrap(client.DELETE("/api/probes/{probe_id}/", { params: { path: { probe_id: id } } })),
  );

interface OfMaterial {
  id: string;
  name: string;
}

export const useSetValue = () =>
  useAct(({ id, name, body }: OfMaterial & { body: Schemas["WriteValueRequest"] }) =>
    unwrap(
      client.PUT("/api/materials/{material_id}/values/{name}/", {
        params: { path: { material_id: id, name } },
        body,
      }),
    ),
  );

export const useDropValue = () =>
  useAct(({ id, name }: OfMaterial) =>
    unwrap(
      client.DELETE("/api/materials/{material_id}/values/{name}/", {
        params: { path: { material_id: id, name } },
      }),
    ),
  );

export const useSetSchool = () =>
  useAct(({ id, name, body }: OfMaterial & { body: Schemas["WriteSchoolRequest"] }) =>
    unwrap(
      client.PUT("/api/materials/{material_id}/schools/{name}/", {
        params: { path: { material_id: id, name } },
        body,
      }),
    ),
  );

export const useDropSchool = () =>
  useAct(({ id, name }: OfMaterial) =>
    unwrap(
      client.DELETE("/api/materials/{material_id}/schools/{name}/", {
        params: { path: { material_id: id, name } },
      }),
    ),
  );

export const useAddMaterial = () =>
  useAct((body: Schemas["NewMaterialRequest"]) => unwrap(client.POST("/api/materials/", { body })));

export const useRemoveMaterial = () =>
  useAct((id: string) =>
    unwrap(client.DELETE("/api/materials/{material_id}/", { params: { path: { material_id: id } } })),
  );

/** Keep what a maker's sheet asks for, or forget it (null). */
export const useSetSheet = () =>
  useAct(({ spool, sheet }: { spool: number; sheet: Schemas["SheetRequest"] | null }) => {
    const params = { path: { spool_id: spool } };
    return unwrap(
      sheet === null
        ? client.DELETE("/api/spools/{spool_id}/sheet/", { params })
        : client.PUT("/api/spools/{spool_id}/sheet/", { params, body: sheet }),
    );
  });

export const useSetPreferences = () =>
  useAct((body: Schemas["PreferencesRequest"]) => unwrap(client.PUT("/api/preferences/", { body })));

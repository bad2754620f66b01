import type { QueryClient } from "@tanstack/react-query";
import { useAct } from "../../api/act";
import { ACT, client, type Lane, type Place, unwrap } from "../../api/client";
import { MOISTURE, PLANS, keys } from "../../api/keys";
import type { components } from "../../api/schema";

type Schemas = components["schemas"];

/** Where spools stand is shown at once; what it means for their water is asked for. */
function takeMoved(queries: QueryClient, body: Schemas["MoveRequest"]) {
  const place = queries.getQueryData<Place[]>(keys.places)?.find((one) => one.id === body.place) ?? null;
  const moved = (lane: Lane): Lane =>
    body.spools.includes(lane.spool.id)
      ? { ...lane, place, since: body.at ?? new Date().toISOString() }
      : lane;
  queries.setQueriesData<Schemas["Rack"]>(
    { queryKey: keys.racks },
    (rack) => rack && { ...rack, lanes: rack.lanes.map((row) => ({ ...row, lane: moved(row.lane) })) },
  );
  queries.setQueryData<Lane[]>(keys.lanes, (lanes) => lanes?.map(moved));
}

export const useMoveSpools = () =>
  useAct(
    ({ body, key }: { body: Schemas["MoveRequest"]; key: string }) =>
      unwrap(client.POST("/api/stays/", { body, headers: { [ACT]: key } })),
    {
      refreshes: MOISTURE,
      takes: (queries, { moved_on }, { body }) => {
        if (moved_on.length === 0) takeMoved(queries, body);
      },
    },
  );

export const useCorrectStay = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["CorrectStayRequest"] }) =>
      unwrap(client.PUT("/api/stays/{stay_id}/", { params: { path: { stay_id: id } }, body })),
    { refreshes: MOISTURE },
  );

export const useRemoveStay = () =>
  useAct(
    (id: number) => unwrap(client.DELETE("/api/stays/{stay_id}/", { params: { path: { stay_id: id } } })),
    { refreshes: MOISTURE },
  );

export const useAddSpool = () =>
  useAct((body: Schemas["NewSpoolRequest"]) => unwrap(client.POST("/api/spools/", { body })), {
    refreshes: MOISTURE,
  });

export const useChangeSpool = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["WriteSpoolRequest"] }) =>
      unwrap(client.PUT("/api/spools/{spool_id}/", { params: { path: { spool_id: id } }, body })),
    { refreshes: MOISTURE },
  );

export const useAddEmptySpool = () =>
  useAct((body: Schemas["WriteEmptySpoolRequest"]) => unwrap(client.POST("/api/empty-spools/", { body })), {
    refreshes: [keys.emptySpools],
  });

export const useNoteMoisture = () =>
  useAct(
    ({ spool, body }: { spool: number; body: Schemas["MoistureRequest"] }) =>
      unwrap(
        client.POST("/api/spools/{spool_id}/moisture/", { params: { path: { spool_id: spool } }, body }),
      ),
    { refreshes: MOISTURE },
  );

export const useUseFilament = () =>
  useAct(
    ({ spool, body }: { spool: number; body: Schemas["UseRequest"] }) =>
      unwrap(client.POST("/api/spools/{spool_id}/uses/", { params: { path: { spool_id: spool } }, body })),
    { refreshes: MOISTURE },
  );

/** Keep what a maker's sheet asks for, or forget it (null). */
export const useSetSheet = () =>
  useAct(
    ({ spool, sheet }: { spool: number; sheet: Schemas["SheetRequest"] | null }) => {
      const params = { path: { spool_id: spool } };
      return unwrap(
        sheet === null
          ? client.DELETE("/api/spools/{spool_id}/sheet/", { params })
          : client.PUT("/api/spools/{spool_id}/sheet/", { params, body: sheet }),
      );
    },
    { refreshes: PLANS },
  );

export const useCorrectMoisture = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["MoistureRequest"] }) =>
      unwrap(
        client.PUT("/api/moisture-readings/{reading_id}/", { params: { path: { reading_id: id } }, body }),
      ),
    { refreshes: MOISTURE },
  );

export const useRemoveMoisture = () =>
  useAct(
    (id: number) =>
      unwrap(client.DELETE("/api/moisture-readings/{reading_id}/", { params: { path: { reading_id: id } } })),
    { refreshes: MOISTURE },
  );

export const useCorrectUse = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["UseRequest"] }) =>
      unwrap(client.PUT("/api/uses/{use_id}/", { params: { path: { use_id: id } }, body })),
    { refreshes: MOISTURE },
  );

export const useRemoveUse = () =>
  useAct((id: number) => unwrap(client.DELETE("/api/uses/{use_id}/", { params: { path: { use_id: id } } })), {
    refreshes: MOISTURE,
  });

const COILS = [keys.coils];

export const useCutCoil = () =>
  useAct(
    ({ spool, body }: { spool: number; body: Schemas["WriteCoilRequest"] }) =>
      unwrap(client.POST("/api/spools/{spool_id}/coils/", { params: { path: { spool_id: spool } }, body })),
    { refreshes: COILS },
  );

export const useChangeCoil = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["ChangeCoilRequest"] }) =>
      unwrap(client.PUT("/api/coils/{coil_id}/", { params: { path: { coil_id: id } }, body })),
    { refreshes: [...COILS, keys.runs, keys.runRecords] },
  );

export const useRemoveCoil = () =>
  useAct(
    (id: number) => unwrap(client.DELETE("/api/coils/{coil_id}/", { params: { path: { coil_id: id } } })),
    { refreshes: COILS },
  );

export const useUseUp = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["UseUpRequest"] }) =>
      unwrap(client.POST("/api/spools/{spool_id}/archive/", { params: { path: { spool_id: id } }, body })),
    { refreshes: [...MOISTURE, keys.archived] },
  );

export const useRestoreSpool = () =>
  useAct(
    (id: number) =>
      unwrap(client.DELETE("/api/spools/{spool_id}/archive/", { params: { path: { spool_id: id } } })),
    { refreshes: [...MOISTURE, keys.archived] },
  );

export const useAddTable = () =>
  useAct((body: Schemas["AddTableRequest"]) => unwrap(client.POST("/api/spools/table/", { body })), {
    refreshes: [keys.emptySpools, ...MOISTURE],
  });

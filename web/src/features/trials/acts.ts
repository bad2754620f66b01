import { useAct } from "../../api/act";
import { client, unwrap } from "../../api/client";
import { keys, MOISTURE } from "../../api/keys";
import type { components } from "../../api/schema";

type Schemas = components["schemas"];

const TRIALS = { refreshes: [keys.trials] };
/** What was taken over moves every plan and forecast. */
const ALL = { refreshes: [keys.trials, keys.materials, keys.dryers, ...MOISTURE] };

export const useBeginTrial = () =>
  useAct((body: Schemas["NewTrialRequest"]) => unwrap(client.POST("/api/trials/", { body })), TRIALS);

export const useWeighSample = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["NewReadingRequest"] }) =>
      unwrap(
        client.POST("/api/samples/{sample_id}/readings/", { params: { path: { sample_id: id } }, body }),
      ),
    TRIALS,
  );

export const useCorrectReading = () =>
  useAct(
    ({ id, ...body }: { id: number } & Schemas["CorrectReadingRequest"]) =>
      unwrap(
        client.PUT("/api/sample-readings/{reading_id}/", {
          params: { path: { reading_id: id } },
          body,
        }),
      ),
    TRIALS,
  );

export const useRemoveReading = () =>
  useAct(
    (id: number) =>
      unwrap(client.DELETE("/api/sample-readings/{reading_id}/", { params: { path: { reading_id: id } } })),
    TRIALS,
  );

export const useNoteTrialAir = () =>
  useAct(
    ({ trial, body }: { trial: number; body: Schemas["NewAirNoteRequest"] }) =>
      unwrap(client.POST("/api/trials/{trial_id}/air/", { params: { path: { trial_id: trial } }, body })),
    TRIALS,
  );

export const useRemoveTrialAir = () =>
  useAct(
    (id: number) => unwrap(client.DELETE("/api/trial-air/{note_id}/", { params: { path: { note_id: id } } })),
    TRIALS,
  );

export const useBeginLadder = () =>
  useAct((body: Schemas["NewLadderRequest"]) => unwrap(client.POST("/api/ladders/", { body })), TRIALS);

export const useRatePrint = () =>
  useAct(
    ({ id, body }: { id: number; body: Schemas["RatedRequest"] }) =>
      unwrap(client.POST("/api/rungs/{rung_id}/prints/", { params: { path: { rung_id: id } }, body })),
    TRIALS,
  );

export const useRemoveRating = () =>
  useAct(
    (id: number) =>
      unwrap(client.DELETE("/api/rung-prints/{print_id}/", { params: { path: { print_id: id } } })),
    TRIALS,
  );

export const useEndTrial = () =>
  useAct(
    (id: number) =>
      unwrap(client.POST("/api/trials/{trial_id}/end/", { params: { path: { trial_id: id } } })),
    TRIALS,
  );

export const useRemoveTrial = () =>
  useAct(
    (id: number) => unwrap(client.DELETE("/api/trials/{trial_id}/", { params: { path: { trial_id: id } } })),
    TRIALS,
  );

export const useTakeOver = () =>
  useAct(
    (id: number) =>
      unwrap(client.POST("/api/trials/{trial_id}/take-over/", { params: { path: { trial_id: id } } })),
    ALL,
  );

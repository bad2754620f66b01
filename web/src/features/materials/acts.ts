import { takeInto, useAct } from "../../api/act";
import { client, unwrap } from "../../api/client";
import { MOISTURE, PLANS, keys } from "../../api/keys";
import type { components } from "../../api/schema";

type Schemas = components["schemas"];

interface OfMaterial {
  id: string;
  name: string;
}

export const useSetValue = () =>
  useAct(
    ({ id, name, body }: OfMaterial & { body: Schemas["WriteValueRequest"] }) =>
      unwrap(
        client.PUT("/api/materials/{material_id}/values/{name}/", {
          params: { path: { material_id: id, name } },
          body,
        }),
      ),
    {
      refreshes: [keys.materials, keys.evidence, ...MOISTURE],
      takes: (queries, answer) => {
        takeInto(queries, keys.materials, answer.material);
      },
    },
  );

export const useDropValue = () =>
  useAct(
    ({ id, name }: OfMaterial) =>
      unwrap(
        client.DELETE("/api/materials/{material_id}/values/{name}/", {
          params: { path: { material_id: id, name } },
        }),
      ),
    {
      refreshes: [keys.materials, keys.evidence, ...MOISTURE],
      takes: (queries, answer) => {
        takeInto(queries, keys.materials, answer.material);
      },
    },
  );

export const useSetProgramme = () =>
  useAct(
    ({ id, name, body }: OfMaterial & { body: Schemas["WriteProgrammeRequest"] }) =>
      unwrap(
        client.PUT("/api/materials/{material_id}/programmes/{name}/", {
          params: { path: { material_id: id, name } },
          body,
        }),
      ),
    {
      refreshes: [keys.materials, ...PLANS],
      takes: (queries, answer) => {
        takeInto(queries, keys.materials, answer.material);
      },
    },
  );

export const useDropProgramme = () =>
  useAct(
    ({ id, name }: OfMaterial) =>
      unwrap(
        client.DELETE("/api/materials/{material_id}/programmes/{name}/", {
          params: { path: { material_id: id, name } },
        }),
      ),
    {
      refreshes: [keys.materials, ...PLANS],
      takes: (queries, answer) => {
        takeInto(queries, keys.materials, answer.material);
      },
    },
  );

export const useAddMaterial = () =>
  useAct((body: Schemas["NewMaterialRequest"]) => unwrap(client.POST("/api/materials/", { body })), {
    refreshes: [keys.materials],
    takes: (queries, answer) => {
      takeInto(queries, keys.materials, answer.material);
    },
  });

export const useRemoveMaterial = () =>
  useAct(
    (id: string) =>
      unwrap(client.DELETE("/api/materials/{material_id}/", { params: { path: { material_id: id } } })),
    { refreshes: [keys.materials] },
  );

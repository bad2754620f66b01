import { useAct } from "../../api/act";
import { client, unwrap } from "../../api/client";
import { PLANS, keys } from "../../api/keys";
import type { components } from "../../api/schema";

type Schemas = components["schemas"];

export const useSetPreferences = () =>
  useAct((body: Schemas["PreferencesRequest"]) => unwrap(client.PUT("/api/preferences/", { body })), {
    refreshes: [keys.preferences, ...PLANS],
    takes: (queries, answer) => {
      queries.setQueryData(keys.preferences, answer.preferences);
    },
  });

export const useMakeBackup = () =>
  useAct(() => unwrap(client.POST("/api/backups/")), { refreshes: [keys.backups] });

import { useAct } from "../../api/act";
import { thenStarted } from "../../api/anew";
import { client, unwrap } from "../../api/client";
import { PLANS, keys } from "../../api/keys";
import { send, type Sending } from "../../api/upload";
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

const MOST_PACKAGE_BYTES = 500e6;

/** Everything may be different afterwards. */
export const useBringIn = () =>
  useAct(
    (sending: Sending) => send<Schemas["BroughtIn"]>("/api/data-package/?", MOST_PACKAGE_BYTES, sending),
    { refreshes: [[]] },
  );

const MOST_BACKUP_BYTES = 2e9;

/** Put a backup back, one of those there by its name, or a file; done when the server is back with it. */
export const useRestore = () =>
  useAct(
    (from: { name: string } | Sending) =>
      thenStarted(() =>
        "name" in from
          ? unwrap(client.POST("/api/backups/{name}/restore/", { params: { path: { name: from.name } } }))
          : send<Schemas["StartsAgain"]>("/api/restore/?", MOST_BACKUP_BYTES, from),
      ),
    { refreshes: [] },
  );

import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useAct } from "../../api/act";
import { client, type Role, type Session, unwrap } from "../../api/client";
import { keys } from "../../api/keys";

/** Somebody else may be here now: nothing that was read before is shown to them. */
function takeSession(queries: QueryClient, now: Session) {
  queries.clear();
  queries.setQueryData(keys.session, now);
}

export const useSignIn = () =>
  useAct((body: { name: string; password: string }) => unwrap(client.POST("/api/session/", { body })), {
    refreshes: [],
    takes: takeSession,
  });

export const useSignOut = () =>
  useAct(() => unwrap(client.DELETE("/api/session/")), { refreshes: [], takes: takeSession });

export const useJoin = () =>
  useAct(
    (body: { secret: string; password: string }) => unwrap(client.POST("/api/accounts/join/", { body })),
    { refreshes: [], takes: takeSession },
  );

export const useChangePassword = () =>
  useAct(
    (body: { old: string; password: string }) => unwrap(client.POST("/api/session/password/", { body })),
    { refreshes: [] },
  );

export const useFirstAccount = () =>
  useAct(
    (body: { name: string; password: string }) => unwrap(client.POST("/api/accounts/first/", { body })),
    { refreshes: [keys.accounts] },
  );

export const useInvite = () =>
  useAct((body: { name: string; role: Role }) => unwrap(client.POST("/api/accounts/", { body })), {
    refreshes: [keys.accounts],
  });

export const useInviteAgain = () =>
  useAct(
    (id: number) =>
      unwrap(client.POST("/api/accounts/{account_id}/invitation/", { params: { path: { account_id: id } } })),
    { refreshes: [keys.accounts] },
  );

export const useSetRole = () =>
  useAct(
    ({ id, role }: { id: number; role: Role }) =>
      unwrap(
        client.PUT("/api/accounts/{account_id}/", { params: { path: { account_id: id } }, body: { role } }),
      ),
    { refreshes: [keys.accounts] },
  );

export const useRemoveAccount = () =>
  useAct(
    async (id: number) => {
      const answer = await client.DELETE("/api/accounts/{account_id}/", {
        params: { path: { account_id: id } },
      });
      if (answer.error !== undefined) await unwrap(Promise.resolve(answer));
    },
    { refreshes: [keys.accounts] },
  );

const ASKS_MS = 500;
const MOST_ASKS = 240;
const after = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Wait until the server that began anew answers: the old one may still do so for a while. */
async function untilItIs(open: boolean) {
  for (let asked = 0; asked < MOST_ASKS; asked++) {
    await after(ASKS_MS);
    const now = await unwrap(client.GET("/api/session/")).catch(() => null);
    if (now?.open === open) return;
  }
}

/** Let other devices in, or shut them out; done when the server is back. */
export function useOpenNetwork() {
  const queries = useQueryClient();
  return useAct(
    async (open: boolean) => {
      const answer = await unwrap(client.PUT("/api/network/", { body: { open } }));
      if (answer.starts_again) {
        await untilItIs(open);
        await queries.invalidateQueries({ queryKey: keys.session });
      }
      return answer;
    },
    { refreshes: [keys.network, keys.accounts] },
  );
}

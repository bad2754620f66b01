import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useAct } from "../../api/act";
import { thenStarted } from "../../api/anew";
import { client, type Role, type Session, unwrap, unwrapNothing } from "../../api/client";
import { keys, type Key } from "../../api/keys";
import { forgetLastKnown } from "../../api/lastKnown";

const OWNERS: Key[] = [keys.accounts, keys.network, keys.backups];

/** Who is here now. The records are the same for all, so what was read stays on the screen and is asked for again; what
 * only owners see goes. */
function takeSession(queries: QueryClient, now: Session) {
  for (const queryKey of OWNERS) queries.removeQueries({ queryKey });
  queries.setQueryData(keys.session, now);
  void queries.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== keys.session[0] });
}

export const useSignIn = () =>
  useAct((body: { name: string; password: string }) => unwrap(client.POST("/api/session/", { body })), {
    refreshes: [],
    takes: takeSession,
  });

/** Nothing of what was read stays in the browser. */
export const useSignOut = () =>
  useAct(() => unwrap(client.DELETE("/api/session/")), {
    refreshes: [],
    takes: () => {
      void forgetLastKnown().then(() => {
        window.location.assign("/");
      });
    },
  });

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
    (id: number) =>
      unwrapNothing(
        client.DELETE("/api/accounts/{account_id}/", {
          params: { path: { account_id: id } },
        }),
      ),
    { refreshes: [keys.accounts] },
  );

export const useMakeToken = () =>
  useAct((body: { name: string }) => unwrap(client.POST("/api/tokens/", { body })), {
    refreshes: [keys.tokens],
  });

export const useRemoveToken = () =>
  useAct(
    (id: number) =>
      unwrapNothing(client.DELETE("/api/tokens/{token_id}/", { params: { path: { token_id: id } } })),
    { refreshes: [keys.tokens] },
  );

/** Let other devices in, or shut them out; done when the server is back. */
export function useOpenNetwork() {
  const queries = useQueryClient();
  return useAct(
    async (open: boolean) => {
      const answer = await thenStarted(() => unwrap(client.PUT("/api/network/", { body: { open } })));
      await queries.invalidateQueries({ queryKey: keys.session });
      return answer;
    },
    { refreshes: [keys.network, keys.accounts] },
  );
}

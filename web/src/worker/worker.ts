/// <reference lib="webworker" />
/** Opens the page without its server, with what was last known. Answers of the server are always asked for first; one
 * that is taken from here says when it was given. */
import { ExpirationPlugin } from "workbox-expiration";
import { cleanupOutdatedCaches, matchPrecache, precacheAndRoute } from "workbox-precaching";
import { NavigationRoute, registerRoute } from "workbox-routing";
import { NetworkFirst } from "workbox-strategies";
import type { WorkboxPlugin } from "workbox-core";
import { KNOWN_AT, LAST_KNOWN } from "../api/lastKnown";

declare const self: ServiceWorkerGlobalScope & { __WB_MANIFEST: { url: string; revision: string | null }[] };

const MOST_ANSWERS = 120;
/** What is no record: whether the server is there, what a device shows this second, files to take along. */
const NEVER_KEPT = /^\/api\/(health|backups|data-package|scales\/\d+\/live|session)\//;

void self.skipWaiting();
self.addEventListener("activate", (event) => {
  event.waitUntil(self.clients.claim());
});

cleanupOutdatedCaches();
precacheAndRoute(self.__WB_MANIFEST, { directoryIndex: "", cleanURLs: false });

// The page itself comes from the server as long as that answers, so that nobody works with an older one.
registerRoute(
  new NavigationRoute(
    async ({ request }) => {
      try {
        return await fetch(request);
      } catch (error) {
        const page = await matchPrecache("/index.html");
        if (!page) throw error;
        return page;
      }
    },
    { denylist: [/^\/api\//] },
  ),
);

registerRoute(
  ({ url, sameOrigin }) => sameOrigin && url.pathname.startsWith("/api/") && !NEVER_KEPT.test(url.pathname),
  new NetworkFirst({
    cacheName: LAST_KNOWN,
    plugins: [
      {
        cacheWillUpdate: async ({ response }) => {
          if (!response.ok || response.headers.get("Content-Type") !== "application/json") return null;
          const headers = new Headers(response.headers);
          headers.set(KNOWN_AT, new Date().toISOString());
          return new Response(await response.blob(), { headers });
        },
      },
      new ExpirationPlugin({ maxEntries: MOST_ANSWERS, purgeOnQuotaError: true }) as WorkboxPlugin,
    ],
  }),
);

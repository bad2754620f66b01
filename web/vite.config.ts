import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

const server = `http://127.0.0.1:${process.env.DARRE_PORT ?? "8642"}`;

/** Asks the browser to compile a whole script off the page's own thread while it is fetched: the first slip then opens
 * as quickly as any later one. Browsers that do not know this comment ignore it. */
const compiledAhead: Plugin = {
  name: "compiled-ahead",
  generateBundle: {
    order: "post", // browsers heed it only at the very top of a file
    handler(_, bundle) {
      for (const part of Object.values(bundle))
        if (part.type === "chunk" && (part.isEntry || part.name === "rest"))
          part.code = `//# allFunctionsCalledOnLoad\n${part.code}`;
    },
  },
};

export default defineConfig({
  base: "/",
  plugins: [react(), tailwindcss(), compiledAhead],
  // The rack comes first; the other rooms follow once nothing else is to do (src/app/rooms.ts).
  build: { assetsInlineLimit: 0, sourcemap: false, chunkSizeWarningLimit: 800 },
  server: { host: "127.0.0.1", proxy: { "/api": server } },
});

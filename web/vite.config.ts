import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

const server = `http://127.0.0.1:${process.env.DARRE_PORT ?? "8642"}`;

export default defineConfig({
  base: "/",
  plugins: [react(), tailwindcss()],
  // One script of about 200 kB packed: the whole page works from the first load on.
  build: { assetsInlineLimit: 0, sourcemap: false, chunkSizeWarningLimit: 800 },
  server: { host: "127.0.0.1", proxy: { "/api": server } },
});

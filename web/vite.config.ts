import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

const server = `http://127.0.0.1:${process.env.DARRE_PORT ?? "8642"}`;

export default defineConfig({
  base: "/",
  plugins: [react(), tailwindcss()],
  // The rack comes first; the other rooms follow once nothing else is to do (src/app/rooms.ts).
  build: { assetsInlineLimit: 0, sourcemap: false, chunkSizeWarningLimit: 800 },
  server: { host: "127.0.0.1", proxy: { "/api": server } },
});

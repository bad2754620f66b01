import { defineConfig } from "vite";

export default defineConfig({
  build: {
    lib: { entry: "tests/parts.ts", formats: ["iife"], name: "laid", fileName: () => "parts.js" },
    outDir: "dist-parts",
  },
});

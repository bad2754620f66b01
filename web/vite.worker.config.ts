import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { defineConfig, type Plugin } from "vite";

const PAGE = "dist";
const digest = (file: string) => createHash("sha256").update(readFileSync(file)).digest("hex").slice(0, 16);

/** The files of the page as it was built, each with what changes when its content does. */
function pageFiles() {
  const names = readdirSync(PAGE, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && !/\.gz$|^worker\.js$/.test(entry.name))
    .map((entry) => `${entry.parentPath}/${entry.name}`.slice(PAGE.length))
    .sort();
  if (!names.includes("/index.html")) throw new Error("The page must be built before its worker.");
  return names.map((url) => ({ url, revision: url.startsWith("/assets/") ? null : digest(PAGE + url) }));
}

/** Tells the service worker of every file of the page, so that it opens without its server. */
const listFiles: Plugin = {
  name: "list-files",
  transform: (code, id) =>
    id.endsWith("/worker.ts") ? code.replace("self.__WB_MANIFEST", JSON.stringify(pageFiles())) : null,
};

/** The worker is one script by itself: it shares no file with the page. */
export default defineConfig({
  plugins: [listFiles],
  publicDir: false,
  define: { "process.env.NODE_ENV": '"production"' },
  build: {
    emptyOutDir: false,
    lib: { entry: "src/worker/worker.ts", formats: ["iife"], name: "worker", fileName: () => "worker.js" },
  },
});

import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { brotliCompressSync } from "node:zlib";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

const PLAIN = ["src/**/*.test.ts"];
const PAGES = [
  "src/**/*.test.tsx",
  "src/{editing/quick/reading,shell/outbox/outbox,draft/draft,draft/storage}.test.ts",
];

const WEB = "../src/mildladder/web";

/** Writes every script and style a second time, compressed as hard as can be. */
const compressed = () => ({
  name: "compressed",
  closeBundle() {
    for (const name of readdirSync(`${WEB}/assets`)) {
      const path = `${WEB}/assets/${name}`;
      if (/\.(?:js|css)$/.test(name)) writeFileSync(`${path}.br`, brotliCompressSync(readFileSync(path)));
    }
  },
});

export default defineConfig({
  plugins: [react(), tailwindcss(), compressed()],
  build: { outDir: WEB, emptyOutDir: true, target: "es2023" },
  server: { proxy: { "/api": "http://127.0.0.1:8474" } },
  test: {
    // Tests without a page share one process: to begin a fresh one for each file takes five times as long as they do.
    projects: [
      { extends: true, test: { name: "plain", include: PLAIN, exclude: PAGES, pool: "threads", isolate: false } },
      { extends: true, test: { name: "page", include: PAGES, environment: "jsdom" } },
    ],
  },
});

import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { outDir: "../src/mildladder/web", emptyOutDir: true, target: "es2023" },
  server: { proxy: { "/api": "http://127.0.0.1:8474" } },
  test: { include: ["src/**/*.test.{ts,tsx}"] },
});

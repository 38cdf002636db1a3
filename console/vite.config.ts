import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { outDir: "dist", emptyOutDir: true, assetsDir: "static", sourcemap: false, assetsInlineLimit: 0 },
  test: { include: ["tests/**/*.test.{ts,tsx}"], setupFiles: ["tests/setup.ts"], testTimeout: 120_000, isolate: false, env: { TZ: "Europe/London" } },
  server: { proxy: { "/api": "http://127.0.0.1:8400" } },
});

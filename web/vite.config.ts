import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  // A class written `save-state` in a module is `styles.saveState` in the code.
  css: { modules: { localsConvention: "camelCaseOnly" } },
  server: { proxy: { "/api": `http://127.0.0.1:${process.env.LEADLINE_PORT ?? 8750}` } },
  build: { chunkSizeWarningLimit: 1400 },
  // a busy machine is slow, not wrong: only a test that hangs runs out of time
  test: { environment: "jsdom", setupFiles: ["src/test/setup.ts"], testTimeout: 120_000, hookTimeout: 120_000 },
});

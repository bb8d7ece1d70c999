import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  // A class written `save-state` in a module is `styles.saveState` in the code.
  css: { modules: { localsConvention: "camelCaseOnly" } },
  server: { proxy: { "/api": `http://127.0.0.1:${process.env.LEADLINE_PORT ?? 8750}` } },
  build: { chunkSizeWarningLimit: 1400 },
  test: {
    environment: "jsdom",
    setupFiles: ["src/test/setup.ts"],
    // One page and one set of modules for the files of a process: to make them anew takes three times as long as the
    // tests. So a test sets what it needs of the stores before it begins.
    isolate: false,
    // a busy machine is slow, not wrong: only a test that hangs runs out of time
    testTimeout: 120_000,
    hookTimeout: 120_000,
  },
});

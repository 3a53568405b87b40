import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  base: "/static/",
  plugins: [react()],
  build: { outDir: "dist", chunkSizeWarningLimit: 2000 },
  // No test depends on how fast the machine is: one that hangs is ended by whoever runs them.
  test: { dir: "tests", environment: "jsdom", isolate: false, testTimeout: 120_000 },
});

import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  base: "/static/",
  plugins: [react()],
  build: { outDir: "dist", chunkSizeWarningLimit: 2000 },
  test: { dir: "tests", environment: "jsdom", isolate: false },
});

import react from "@vitejs/plugin-react"
import { defineConfig } from "vitest/config"

export default defineConfig({
  plugins: [react()],
  // The API's own document stands beside this folder.
  server: { fs: { allow: [".."] } },
  test: {
    environment: "jsdom",
    environmentOptions: { jsdom: { url: "http://bench.test/" } },
    include: ["tests/**/*.test.{ts,tsx}"],
    setupFiles: ["tests/setup.ts"],
    restoreMocks: true,
    // One page for all files: setting one up takes longer than most of them.
    isolate: false,
    maxWorkers: 1,
    // A slow machine is no fault: what hangs ends all the same.
    testTimeout: 60_000,
    hookTimeout: 60_000,
  },
})

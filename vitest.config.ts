import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: "unit",
          include: ["src/**/*.test.ts", "bench/**/*.test.ts", "scripts/**/*.test.ts"],
          environment: "node",
          setupFiles: ["src/store/testing/one-window.ts"],
          // As below: for what has hung. Properties are many runs in one test.
          testTimeout: 180_000,
        },
      },
      {
        test: {
          name: "e2e",
          include: ["tests/e2e/**/*.test.ts"],
          environment: "node",
          globalSetup: ["tests/e2e/serve.ts"],
          // Limits for what has hung, and not for what is slow: one of a minute has taken over four on a machine that was busy with others.
          testTimeout: 600_000,
          hookTimeout: 240_000,
          expect: { poll: { timeout: 30_000, interval: 50 } },
          setupFiles: ["tests/e2e/own-server.ts"],
          // A browser and a server wait for one another: a second file fills the pauses.
          maxWorkers: 2,
        },
      },
    ],
  },
});

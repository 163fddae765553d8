import { cpSync, mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, inject } from "vitest";
import { type RunningServer, startServer } from "./server.ts";

/** The server of this file of tests: files run side by side, and what one leaves on the Shelf is none of another's business. */
let server: RunningServer;

beforeAll(async () => {
  const dataFolder = mkdtempSync(join(tmpdir(), "marten-e2e-"));
  cpSync(inject("freshFolder"), dataFolder, { recursive: true });
  // Ports of several files lie far enough apart: a server that finds its own taken looks for the next. From 20000 on, browsers refuse none.
  server = await startServer({ dataFolder, port: 20_000 + (process.pid % 500) * 10 });
});
afterAll(() => server.stop());

export const baseUrl = () => server.url;

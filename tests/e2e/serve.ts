import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { TestProject } from "vitest/node";
import { startServer } from "./server.ts";

declare module "vitest" {
  export interface ProvidedContext {
    baseUrl: string;
  }
}

/** Starts the application once for all tests, as a person does, with a data folder of its own. */
export default async function setup(project: TestProject) {
  const server = await startServer({ dataFolder: mkdtempSync(join(tmpdir(), "marten-e2e-")), port: 3400 });
  project.provide("baseUrl", server.url);
  return () => server.stop();
}

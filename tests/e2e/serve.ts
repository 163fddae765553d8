import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { TestProject } from "vitest/node";
import { startServer } from "./server.ts";

declare module "vitest" {
  export interface ProvidedContext {
    /** A data folder with the demo, as a first start leaves it. Every file of tests works on a copy. */
    freshFolder: string;
  }
}

/** Builds the application and starts it once, as a person does, for what all files of tests begin with. */
export default async function setup(project: TestProject) {
  const freshFolder = mkdtempSync(join(tmpdir(), "marten-fresh-"));
  const server = await startServer({ dataFolder: freshFolder, port: 3400 });
  await server.stop();
  project.provide("freshFolder", freshFolder);
}

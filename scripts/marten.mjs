// `npm run marten`: the command line, from built code. To translate it at every start would take five times as long as most of its work.
import { existsSync, mkdirSync, readdirSync, statSync } from "node:fs";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { install, root, sayAside } from "./setup.mjs";

const built = join(root, "build/marten.mjs");

if (!existsSync(built) || newestMs(join(root, "src")) > statSync(built).mtimeMs) {
  sayAside();
  install();
  mkdirSync(join(root, "build"), { recursive: true });
  const { buildSync } = await import("esbuild");
  buildSync({
    entryPoints: [join(root, "src/cli/marten.ts")],
    outfile: built,
    bundle: true,
    platform: "node",
    format: "esm",
    target: "node20",
    logLevel: "warning",
    // What is bundled with it may still ask for modules in the old way.
    banner: { js: 'import { createRequire } from "node:module"; const require = createRequire(import.meta.url);' },
  });
}
await import(pathToFileURL(built).href);

/** When anything below a folder was last written. */
function newestMs(folder) {
  return readdirSync(folder, { withFileTypes: true }).reduce((newest, entry) => {
    const path = join(folder, entry.name);
    return Math.max(newest, entry.isDirectory() ? newestMs(path) : statSync(path).mtimeMs);
  }, 0);
}

// `npm run dev`: serves the application from its sources, on port 3000 or `PORT`, in a data folder of its own; a change is on the page
// within seconds. What runs in processes of its own (`bundle` in setup.mjs) is bundled once: start anew after changing that.
import { join } from "node:path";
import { bundle, env, install, root, run, say, spawnHere } from "./setup.mjs";

install();
bundle();
// Not where real work is: a version that is being written may do anything to it.
const ownEnv = { ...env, MARTEN_DATA: process.env.MARTEN_DATA ?? join(root, "build/dev-data") };
run("Preparing the data folder", process.execPath, ["build/prepare.mjs"], { env: ownEnv });
say("Serving from the sources. Stop it with Ctrl-C.");
const server = spawnHere(
  process.execPath,
  [join(root, "node_modules/next/dist/bin/next"), "dev", "-H", "127.0.0.1", "-p", process.env.PORT ?? "3000"],
  { env: ownEnv },
);
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => server.kill("SIGTERM"));
server.on("exit", (code) => process.exit(code ?? 0));

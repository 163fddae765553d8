// Bundles the benchmarks as the application itself is bundled, and runs them: a loader's helpers would be measured too.
import { build, install, run, spawnHere } from "./setup.mjs";

install();
build();
run("Bundling the benchmarks", "npx", [
  "esbuild",
  "bench/run.ts",
  "--bundle",
  "--platform=node",
  "--format=esm",
  "--target=node20",
  "--packages=external",
  "--outfile=build/bench.mjs",
  "--log-level=warning",
]);
spawnHere(process.execPath, ["build/bench.mjs"]).on("exit", (code) => process.exit(code ?? 1));

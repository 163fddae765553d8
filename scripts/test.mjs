// `npm test`: sets up what is missing, then checks types, lint and layers, units and the interface in headless Chromium.
// The last line adds all of it up: `N passed, N failed`.
import { spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { build, env, install, root, run, say } from "./setup.mjs";

const CHROMIUM = "/usr/bin/chromium";

install();
installChromium();
build();

const counts = { passed: 0, failed: 0 };
check("types of the core", "npx", ["tsc", "-p", "src/core"]);
check("types", "npx", ["tsc", "-p", "."]);
check("lint, format and layers", "npx", ["biome", "check", "--error-on-warnings", "."]);
suite("unit");
suite("e2e");

console.log(`${counts.passed} passed, ${counts.failed} failed`);
process.exit(counts.failed === 0 ? 0 : 1);

function installChromium() {
  if (existsSync(CHROMIUM)) return;
  say("Installing Chromium for the tests of the interface.");
  run("Reading the package lists", "apt-get", ["update", "-qq"]);
  run("The installation of Chromium", "apt-get", ["install", "-y", "-qq", "--no-install-recommends", "chromium"]);
}

/** One command that passes or fails as a whole. */
function check(name, command, args) {
  say(`Checking ${name}.`);
  const { status } = spawnSync(command, args, { cwd: root, stdio: "inherit", env });
  counts[status === 0 ? "passed" : "failed"]++;
}

/** A suite of tests, counted one by one. A suite that ends without a report has failed. */
function suite(project) {
  say(`Running the ${project} tests.`);
  const report = join(mkdtempSync(join(tmpdir(), "marten-test-")), "report.json");
  const args = [
    "vitest",
    "run",
    "--project",
    project,
    "--reporter=default",
    "--reporter=json",
    `--outputFile.json=${report}`,
  ];
  const { status } = spawnSync("npx", args, { cwd: root, stdio: "inherit", env });
  if (!existsSync(report)) {
    counts.failed++;
    return;
  }
  const { numPassedTests, numFailedTests } = JSON.parse(readFileSync(report, "utf8"));
  counts.passed += numPassedTests;
  counts.failed += numFailedTests;
  if (status !== 0 && numFailedTests === 0) counts.failed++;
}

// `npm test`: sets up what is missing, then checks types, lint, units with the layers, and the interface in headless Chromium.
// The last line adds all of it up: `N passed, N failed`.
import { spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { build, bundle, env, install, root, run, say } from "./setup.mjs";

const CHROMIUM = "/usr/bin/chromium";
/** What failed is run once more, to tell what is unstable from what is broken. */
const repeatsFailed = process.argv.includes("--repeat-failed");
/** Only types, and the units that what has changed since the last commit can break: for the loop while one works. */
const isOfChanged = process.argv.includes("--changed");
const startMs = Date.now();

install();
if (isOfChanged) bundle();
else {
  installChromium();
  build();
}

const counts = { passed: 0, failed: 0 };
check("types of the core", "npx", ["tsc", "-p", "src/core"]);
check("types", "npx", ["tsc", "-p", "."]);
if (isOfChanged) suite("unit", ["--changed"]);
else {
  check("lint and format", "npx", ["biome", "check", "--error-on-warnings", "."]);
  audit();
  suite("unit");
  suite("e2e");
}

say(`It took ${minutesSince(startMs)}.`);
console.log(`${counts.passed} passed, ${counts.failed} failed`);
process.exit(counts.failed === 0 ? 0 : 1);

function installChromium() {
  if (existsSync(CHROMIUM)) return;
  say("Installing Chromium for the tests of the interface.");
  run("Reading the package lists", "apt-get", ["update", "-qq"]);
  run("The installation of Chromium", "apt-get", ["install", "-y", "-qq", "--no-install-recommends", "chromium"]);
}

/** Known faults of the packages that the application is made of, where the registry tells. Grave ones fail. */
function audit() {
  say("Asking for known faults of packages.");
  const { stdout } = spawnSync("npm", ["audit", "--omit=dev", "--json"], { cwd: root, env, timeout: 60_000 });
  const found = parsed(String(stdout ?? ""))?.metadata?.vulnerabilities;
  if (!found) return say("Skipped: the registry does not answer such questions.");
  const grave = found.high + found.critical;
  counts[grave === 0 ? "passed" : "failed"]++;
  say(`${found.total} known, ${grave} of them grave.`);
}

function parsed(text) {
  try {
    return JSON.parse(text);
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error;
    return null;
  }
}

/** One command that passes or fails as a whole. */
function check(name, command, args) {
  say(`Checking ${name}.`);
  const { status } = spawnSync(command, args, { cwd: root, stdio: "inherit", env });
  counts[status === 0 ? "passed" : "failed"]++;
}

/** A suite of tests, counted one by one. A suite that ends without a report has failed. */
function suite(project, more = []) {
  say(`Running the ${project} tests.`);
  const { status, report } = vitest(project, more);
  if (!report) {
    counts.failed++;
    return;
  }
  const { numPassedTests, numFailedTests, testResults } = report;
  // A file that could not begin has no test that failed, only some that were not run.
  const broken = testResults.filter(
    (file) => file.status === "failed" && file.assertionResults.every((one) => one.status !== "failed"),
  );
  counts.passed += numPassedTests;
  counts.failed += numFailedTests + broken.length;
  if (status !== 0 && numFailedTests + broken.length === 0) counts.failed++;
  if (repeatsFailed && numFailedTests > 0) repeat(project, report);
}

/** Runs each failed test once more, alone: one that passes then is unstable, which is a fault of its own. It stays counted as failed. */
function repeat(project, { testResults }) {
  for (const { name: file, assertionResults } of testResults) {
    for (const { fullName, status } of assertionResults) {
      if (status !== "failed") continue;
      const pattern = `^ ?${fullName.replace(/[.*+?^${}()|[\]\\]/g, "\\$&")}$`;
      const again = vitest(project, [file, "--testNamePattern", pattern]).report;
      const passes = again?.numPassedTests === 1 && again.numFailedTests === 0;
      say(`${passes ? "Unstable: it failed, and passed when repeated" : "Failed twice"}: ${fullName}`);
    }
  }
}

function vitest(project, more = []) {
  const path = join(mkdtempSync(join(tmpdir(), "marten-test-")), "report.json");
  const args = ["vitest", "run", "--project", project, "--reporter=default", "--reporter=json"];
  const { status } = spawnSync("npx", [...args, `--outputFile.json=${path}`, ...more], {
    cwd: root,
    stdio: "inherit",
    env,
  });
  return { status, report: existsSync(path) ? JSON.parse(readFileSync(path, "utf8")) : null };
}

function minutesSince(startMs) {
  const seconds = Math.round((Date.now() - startMs) / 1000);
  return `${Math.floor(seconds / 60)} min ${seconds % 60} s`;
}

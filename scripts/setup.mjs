// What the two commands share: install what is missing, build when something changed, run things and say so.
import { spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

export const root = dirname(dirname(fileURLToPath(import.meta.url)));
export const env = { ...process.env, NEXT_TELEMETRY_DISABLED: "1" };

let spoken = process.stdout;

/** From here on what is said, also by what is run, goes to the errors: for commands whose results other programs read. */
export function sayAside() {
  spoken = process.stderr;
}

export function say(text) {
  spoken.write(`· ${text}\n`);
}

/** Runs a command to its end; the process stops with a sentence if it fails. */
export function run(what, command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: root, stdio: ["inherit", spoken, "inherit"], env, ...options });
  if (result.status !== 0) {
    console.error(`${what} failed. What it printed above says why.`);
    process.exit(result.status ?? 1);
  }
}

export function spawnHere(command, args, options = {}) {
  return spawn(command, args, { cwd: root, stdio: "inherit", env, ...options });
}

const stampOf = (name) => join(root, "node_modules", `.marten-${name}`);
const isStamped = (name, value) => existsSync(stampOf(name)) && readFileSync(stampOf(name), "utf8") === value;

/** Installs packages if the lock file has changed since they were last installed. */
export function install() {
  const wanted = hashOf(["package.json", "package-lock.json"]);
  if (isStamped("installed", wanted)) return;
  // With packages there already, only what changed is installed and the driver need not be compiled again.
  const isFresh = !existsSync(join(root, "node_modules/better-sqlite3/build/Release/better_sqlite3.node"));
  say(
    isFresh
      ? "Installing packages. The SQLite driver is compiled for this machine, which takes about two minutes."
      : "Bringing packages up to date.",
  );
  run("The installation", "npm", [isFresh ? "ci" : "install", "--no-audit", "--no-fund", "--loglevel=error"]);
  writeFileSync(stampOf("installed"), wanted);
}

/** What runs in processes of its own beside the server: reading files, preparing the data folder, backups. */
export function bundle() {
  mkdirSync(join(root, "build"), { recursive: true });
  run("The build of the workers", "npx", [
    "esbuild",
    "src/server/midi-child.ts",
    "src/server/prepare.ts",
    "src/server/backup-command.ts",
    "--bundle",
    "--platform=node",
    "--format=esm",
    "--target=node20",
    "--packages=external",
    "--outdir=build",
    "--out-extension:.js=.mjs",
    "--log-level=warning",
  ]);
}

/** Builds the application if its sources have changed since it was last built. */
export function build() {
  const wanted = hashOf([
    "app",
    "src",
    "scripts",
    "package-lock.json",
    "next.config.ts",
    "proxy.ts",
    "postcss.config.mjs",
  ]);
  const stamp = join(root, "build/stamp");
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === wanted && existsSync(join(root, ".next/BUILD_ID"))) return;
  say("Building the application (about half a minute).");
  bundle();
  run("The build", "npx", ["next", "build"]);
  writeFileSync(stamp, wanted);
}

function hashOf(paths) {
  const hash = createHash("sha256");
  for (const path of paths) addToHash(hash, join(root, path));
  return hash.digest("hex");
}

function addToHash(hash, path) {
  if (!existsSync(path)) return;
  if (!statSync(path).isDirectory()) {
    hash.update(path.slice(root.length)).update(readFileSync(path));
    return;
  }
  for (const name of readdirSync(path).sort()) {
    if (!name.includes(".test.")) addToHash(hash, join(path, name));
  }
}

// `npm start`: installs, builds, migrates, puts the demo on the shelf, and serves on the first free port from 3000 up.
import { createServer } from "node:net";
import { join } from "node:path";
import { build, install, root, run, say, spawnHere } from "./setup.mjs";

const HOST = "127.0.0.1";
/** The server ends by itself before this, and closes its database. */
const GRACE_MS = 10_000;

install();
build();
run("Preparing the data folder", process.execPath, ["build/prepare.mjs"]);

const port = await freePort(Number(process.env.PORT) || 3000);
// Started directly and not through npx, so that Ctrl-C reaches it and nothing stays behind.
const server = spawnHere(
  process.execPath,
  [join(root, "node_modules/next/dist/bin/next"), "start", "-H", HOST, "-p", String(port)],
  {
    stdio: ["ignore", "pipe", "inherit"],
  },
);
let isReady = false;
server.stdout.on("data", (chunk) => {
  if (isReady || !String(chunk).includes("Ready")) return;
  isReady = true;
  const token = process.env.MARTEN_TOKEN ? `/?token=${encodeURIComponent(process.env.MARTEN_TOKEN)}` : "";
  say(`Idle Marten is ready: http://localhost:${port}${token}`);
  say("Stop it with Ctrl-C. Your work is saved as you go.");
});
let isStopping = false;
for (const signal of ["SIGINT", "SIGTERM"]) {
  process.on(signal, () => {
    isStopping = true;
    server.kill("SIGTERM");
    // Only for a server that hangs: what it has answered is on the disk by then, so nothing is lost by not waiting any longer.
    setTimeout(() => server.kill("SIGKILL"), GRACE_MS).unref();
  });
}
server.on("exit", (code) => process.exit(isStopping ? 0 : (code ?? 1)));

async function freePort(first) {
  for (let port = first; port < first + 100; port++) {
    if (await isFree(port)) return port;
    if (port === first) say(`Port ${first} is taken; looking for the next free one.`);
  }
  console.error(`No port from ${first} to ${first + 99} is free. Set PORT to another one.`);
  process.exit(1);
}

function isFree(port) {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once("error", () => resolve(false));
    probe.listen(port, HOST, () => probe.close(() => resolve(true)));
  });
}

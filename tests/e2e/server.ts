import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";

export interface RunningServer {
  readonly url: string;
  /** The server's own process, not the starter's. */
  readonly process: ChildProcess;
  stop(): Promise<number | null>;
}

/** Runs `npm start`'s script and waits until it says where it is. */
export async function startServer({ dataFolder, port }: { dataFolder: string; port: number }): Promise<RunningServer> {
  const child = spawn(process.execPath, ["scripts/start.mjs"], {
    env: { ...process.env, MARTEN_DATA: dataFolder, PORT: String(port) },
    stdio: ["ignore", "pipe", "pipe"],
    detached: true,
  });
  let said = "";
  const url = await new Promise<string>((resolve, reject) => {
    const listen = (chunk: Buffer) => {
      said += String(chunk);
      const address = /ready: (http:\S+)/.exec(said)?.[1];
      if (address) resolve(address);
    };
    child.stdout.on("data", listen);
    child.stderr.on("data", listen);
    child.once("exit", (code) => reject(new Error(`The server ended with ${code} before it was ready:\n${said}`)));
  });
  return {
    url,
    process: child,
    stop: async () => {
      if (child.exitCode !== null) return child.exitCode;
      child.kill("SIGINT");
      const [code] = await once(child, "exit");
      return code;
    },
  };
}

import { type Remote, wrap } from "comlink";
import type { Analysis } from "./analysis.worker.ts";
import type { Kit } from "./kit.worker.ts";

/** A worker with its functions. `end` stops it and whatever it is doing. */
export interface Helper<Functions> {
  readonly call: Remote<Functions>;
  end(): void;
}

function helperOf<Functions>(worker: Worker): Helper<Functions> {
  return { call: wrap<Functions>(worker), end: () => worker.terminate() };
}

export function startKit(): Helper<Kit> {
  return helperOf(new Worker(new URL("./kit.worker.ts", import.meta.url), { type: "module" }));
}

export function startAnalysis(): Helper<Analysis> {
  return helperOf(new Worker(new URL("./analysis.worker.ts", import.meta.url), { type: "module" }));
}

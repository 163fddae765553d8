import { denseTake } from "./bench/dense-take.ts";
import { runMidiTask, runImport } from "./src/server/midi-task.ts";
const { bytes } = denseTake(Number(process.argv[2]));
const { importTake, applyEdit, changeTiming } = await import("./src/core/part/index.ts");
const { GENERAL_MIDI } = await import("./src/core/notemap/index.ts");
const { Session } = await import("node:inspector/promises");
const { pattern } = importTake(bytes, GENERAL_MIDI);
const on = applyEdit(pattern, changeTiming(pattern, new Set(pattern.lanes.map((l: any) => l.voiceId)), (x) => ({ ...x, isOn: true })));
const s = new Session(); s.connect(); await s.post("Profiler.enable"); await s.post("Profiler.setSamplingInterval", { interval: 500 });
for (const [name, f] of [["export", () => runMidiTask({ kind: "export", bytes, pattern: on, choice: { layout: "asRecorded", only: null } } as never)], ["import", () => runImport(bytes)]] as const) {
  await s.post("Profiler.start"); f(); const { profile } = await s.post("Profiler.stop");
  const self = new Map<string, number>(); const total = new Map<string, number>();
  const byId = new Map(profile.nodes.map((n: any) => [n.id, n])); const parent = new Map<number, number>();
  for (const n of profile.nodes as any[]) for (const c of n.children ?? []) parent.set(c, n.id);
  const dt = profile.timeDeltas!; profile.samples!.forEach((id: number, i: number) => { const d = dt[i]! / 1000; let n: any = byId.get(id); const nm = (x: any) => `${x.callFrame.functionName || "(anon)"} ${x.callFrame.url.split("/").slice(-2).join("/")}:${x.callFrame.lineNumber}`; self.set(nm(n), (self.get(nm(n)) ?? 0) + d); const seen = new Set(); let at: number | undefined = id; while (at !== undefined) { const k = nm(byId.get(at)); if (!seen.has(k)) { seen.add(k); total.set(k, (total.get(k) ?? 0) + d); } at = parent.get(at); } });
  console.log("==", name); for (const [k, v] of [...self].sort((a, b) => b[1] - a[1]).slice(0, 14)) console.log("self", v.toFixed(0).padStart(6), k);
  for (const [k, v] of [...total].sort((a, b) => b[1] - a[1]).slice(0, 32)) console.log("total", v.toFixed(0).padStart(6), k);
}

import { denseTake } from "./bench/dense-take.ts";
import { runImport, runMidiTask } from "./src/server/midi-task.ts";
import { importTake, exportTake, changeTiming, applyEdit, describeExport, summarizePattern } from "./src/core/part/index.ts";
import { readMidiFile } from "./src/core/smf/index.ts";
import { GENERAL_MIDI } from "./src/core/notemap/index.ts";
const t = (name: string, f: () => any) => { const s = performance.now(); const c = process.cpuUsage(); const r = f(); const u = process.cpuUsage(c); console.log(name.padEnd(34), (performance.now() - s).toFixed(0), "ms, cpu", ((u.user + u.system) / 1000).toFixed(0)); return r; };
for (const n of [20000, 490000]) {
  const { bytes } = denseTake(n);
  console.log(n, "bytes", bytes.length);
  t("decode", () => readMidiFile(bytes));
  t("decode", () => readMidiFile(bytes));
  const { pattern } = t("importTake", () => importTake(bytes, GENERAL_MIDI));
  t("runImport", () => runImport(bytes));
  const on = applyEdit(pattern, changeTiming(pattern, new Set(pattern.lanes.map((l: any) => l.voiceId)), (x) => ({ ...x, isOn: true })));
  for (const layout of ["asRecorded", "perVoice"] as const) t("export " + layout, () => runMidiTask({ kind: "export", bytes, pattern: on, choice: { layout, only: null } } as never));
  t("export untouched", () => runMidiTask({ kind: "export", bytes, pattern, choice: { layout: "asRecorded", only: null } } as never));
  t("summary", () => summarizePattern(pattern));
}

import { GENERAL_MIDI } from "../src/core/notemap/index.ts";
import { hitsByVoice, importTake } from "../src/core/part/index.ts";
import { buildTimeMaps, gridName, tickToMs, formatBarBeat, gridStepTicks } from "../src/core/time/index.ts";
import { findGrids } from "../src/core/timing/find-grid.ts";
import { treat } from "../src/core/treat.ts";
import { writeMidiFile } from "../src/core/smf/index.ts";
import { perform } from "../src/standin/perform.ts";
import { createRandom } from "../src/standin/random.ts";
import { makeStudies } from "../src/standin/studies.ts";
const [seed, style, tight] = process.argv.slice(2);
for (const { study, seed: s } of makeStudies(Number(seed), 2)) {
  if (!study.style.startsWith(style!) || study.tightness !== tight) continue;
  const { file, truth } = perform(study.part, study.habits, createRandom(s));
  const { pattern } = importTake(writeMidiFile(file), GENERAL_MIDI);
  const maps = buildTimeMaps(pattern); const by = hitsByVoice(pattern.hits);
  const found = findGrids(by, maps); const t = new Map(truth.map(h => [h.id, h]));
  console.log("==", study.part.title, study.part.bpm, JSON.stringify(study.part.swing ?? ""), "late", study.habits.latencyMs?.toFixed(0));
  for (const lane of pattern.lanes) {
    const hits = by.get(lane.voiceId) ?? []; const f = found.get(lane.voiceId)!;
    const c = treat(hits, { timing: { ...lane.treatment.timing, isOn: true, strengthPercent: 100 } }, maps, pattern.lengthTicks);
    const bad = hits.map((h, r) => ({ h, r, m: t.get(h.id)! })).filter(({ r, m }) => m.kind === "hit" && Math.abs(c.ticks[r]! - m.tick) > 1);
    console.log(" ", lane.voiceId, hits.length, gridName(f.grid), "mean", f.meanDriftMs.toFixed(1), "true", ((study.habits.voices[lane.voiceId] ?? study.habits.voices.any)!.biasMs + (study.habits.latencyMs ?? 0)).toFixed(1), "±", f.spreadMs.toFixed(1), "bad", bad.length, f.stretches.map(x => `${formatBarBeat(maps.meterMap, x.startTick)}-${formatBarBeat(maps.meterMap, x.endTick)} ${gridName(x.grid)}`).join("; "));
    for (const { h, r, m } of bad.slice(0, 4)) console.log("     ", formatBarBeat(maps.meterMap, h.recordedTick!), "meant", formatBarBeat(maps.meterMap, m.tick), "got", formatBarBeat(maps.meterMap, c.ticks[r]!), "flags", c.flags[r], "v", h.recordedVelocity);
  }
}

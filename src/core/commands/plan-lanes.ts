import { sortVoiceIds } from "../document/index.ts";
import { hitsByVoice, isOfFile, type Lane, type Pattern } from "../document/pattern.ts";
import { DEFAULT_TREATMENT, type Treatment, takenLatencyMs } from "../document/treatment.ts";
import type { FoundGrid } from "../study/find-grid.ts";
import { lateOf } from "../study/find-lateness.ts";
import { studyVoices } from "../study/study-voices.ts";
import { buildTimeMaps } from "../time/index.ts";
import { withLatency } from "./timing-setting.ts";

/**
 * The lanes of a take that nothing was done to yet, each on the grid that is found for it.
 * @param onProgress told how much is done, 0 to 1
 */
export function planLanes(pattern: Pattern, onProgress?: (share: number) => void): readonly Lane[] {
  return lanesFor({ ...pattern, lanes: [] }, [], onProgress);
}

/**
 * The lanes that a pattern's hits need, in the order of its map. A lane that is there keeps its treatment; a new one
 * starts with its timing off and set to the grid found for its voice.
 * @param keptVoiceIds drums that keep their lane also without a hit
 * @param onProgress told how much is done, 0 to 1
 */
export function lanesFor(
  pattern: Pattern,
  keptVoiceIds: readonly string[] = [],
  onProgress?: (share: number) => void,
): readonly Lane[] {
  const byVoice = hitsByVoice(pattern.hits);
  const known = new Map(pattern.lanes.map((lane) => [lane.voiceId, lane]));
  // To study a long take keeps whoever waits for a moment: it is done only where a drum is new.
  const isStudied = [...byVoice.keys()].some((voiceId) => !known.has(voiceId));
  const found = isStudied
    ? studyVoices(byVoice, pattern.noteMap, buildTimeMaps(pattern), lateOf(pattern.lanes), onProgress).found
    : null;
  const latencyMs = latencyOfAll(pattern.lanes);
  return sortVoiceIds(pattern.noteMap, new Set([...byVoice.keys(), ...keptVoiceIds])).map((voiceId) => {
    const own = found?.get(voiceId);
    const lane = known.get(voiceId);
    if (lane) return lane;
    const treatment = own ? treatmentOnGrid(own) : DEFAULT_TREATMENT;
    const isLate = byVoice.get(voiceId)?.some(isOfFile) === true;
    return { voiceId, treatment: { ...treatment, timing: withLatency(treatment.timing, latencyMs, isLate) } };
  });
}

/** What is taken off all lanes alike, as the latency of the take: a lane that is new is as late. */
function latencyOfAll(lanes: readonly Lane[]): number {
  const [first = 0, ...others] = lanes.map(({ treatment }) => takenLatencyMs(treatment.timing));
  return others.every((one) => one === first) ? first : 0;
}

/** A treatment that is not on yet, set to a found grid and the voice's habit. */
export function treatmentOnGrid(found: FoundGrid): Treatment {
  const pocketMs = Math.round(found.meanDriftMs * 10) / 10;
  const stretches = found.stretches.length > 0 ? { stretches: found.stretches } : {};
  const ghosts = found.ghostGrid ? { ghostGrid: found.ghostGrid } : {};
  const plan = { grid: found.grid, ...ghosts, ...stretches };
  return { ...DEFAULT_TREATMENT, timing: { ...DEFAULT_TREATMENT.timing, ...plan, pocketMs } };
}

/**
 * A treatment on the grid that was found for its voice, ghosts and stretches included, and around the voice's habit. What else a person
 * has set about it stays.
 * @param isLate whether the latency that is taken off holds of the voice, as it does where the file has hits of it
 */
export function onFoundGrid(treatment: Treatment, found: FoundGrid, isLate = true): Treatment {
  const { stretches: _stretches, ghostGrid: _ghosts, ...rest } = treatment.timing;
  const { grid, stretches, ghostGrid, pocketMs } = treatmentOnGrid(found).timing;
  const plan = { grid, ...(ghostGrid ? { ghostGrid } : {}), ...(stretches ? { stretches } : {}) };
  // What is taken off as latency is no habit any more.
  const ownMs = isLate ? Math.round((pocketMs - rest.latencyMs) * 10) / 10 : pocketMs;
  return { ...treatment, timing: { ...rest, ...plan, pocketMs: ownMs } };
}

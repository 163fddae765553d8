import type { Edit } from "../document/index.ts";
import { hitsByVoice, type Pattern } from "../document/pattern.ts";
import { buildTimeMaps } from "../time/index.ts";
import { studyVoices } from "../timing/study-voices.ts";
import { treatmentOnGrid } from "./plan-lanes.ts";

/**
 * Reads a take as having come in so late: each voice is put on the grid that it was played on if that is so. How it is treated
 * otherwise stays, and what is off stays off.
 * @param lateMs late is positive
 */
export function readLate(pattern: Pattern, lateMs: number): Edit {
  const lanesLateMs = pattern.lanes.map(() => lateMs);
  const { found } = studyVoices(hitsByVoice(pattern.hits), pattern.noteMap, buildTimeMaps(pattern), lanesLateMs);
  const changes = pattern.lanes.flatMap(({ voiceId, treatment }) => {
    const own = found.get(voiceId);
    if (!own) return [];
    const { stretches: _stretches, ghostGrid: _ghosts, ...rest } = treatment.timing;
    const { grid, ghostGrid, stretches, pocketMs } = treatmentOnGrid(own).timing;
    const timing = {
      ...rest,
      grid,
      ...(ghostGrid ? { ghostGrid } : {}),
      ...(stretches ? { stretches } : {}),
      pocketMs: Math.round((pocketMs - rest.latencyMs) * 10) / 10,
    };
    return [{ voiceId, from: treatment, to: { ...treatment, timing } }];
  });
  return { kind: "setTreatments", changes };
}

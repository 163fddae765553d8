import type { Edit } from "../document/index.ts";
import { hitsByVoice, type Pattern } from "../document/pattern.ts";
import { studyVoices } from "../study/study-voices.ts";
import { buildTimeMaps } from "../time/index.ts";
import { onFoundGrid } from "./plan-lanes.ts";

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
    return own ? [{ voiceId, from: treatment, to: onFoundGrid(treatment, own) }] : [];
  });
  return { kind: "setTreatments", changes };
}

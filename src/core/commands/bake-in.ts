import type { Edit, HitMove, VelocityChange } from "../document/index.ts";
import { findVoice, isDecided, isTreated, pinsIn, withoutSteps } from "../document/index.ts";
import { hitsByVoice, type Pattern } from "../document/pattern.ts";
import { buildTimeMaps } from "../time/index.ts";
import { treat } from "../treat.ts";
import { changeTreatments } from "./commands.ts";

/** A stretch of a pattern, in ticks; its end is no part of it. */
export interface TickRange {
  readonly startTick: number;
  readonly endTick: number;
}

/**
 * Makes what the treatments of some voices do the hits' own, as if a hand had done it: places, loudness, and what the repair
 * leaves out is muted. What was recorded stays beside them. Baked in as a whole, a voice needs its steps no longer, and they are
 * switched off; in a stretch they stay on for the rest, and every hit of the stretch is pinned, so that later settings leave it
 * alone.
 * @param range only hits that sound in it; null for all
 */
export function bakeIn(pattern: Pattern, voiceIds: ReadonlySet<string>, range: TickRange | null): Edit {
  const maps = buildTimeMaps(pattern);
  const byVoice = hitsByVoice(pattern.hits);
  const pinOf = pinsIn(pattern);
  const lanes = pattern.lanes.filter((lane) => voiceIds.has(lane.voiceId) && isTreated(lane.treatment));
  const moves: HitMove[] = [];
  const changes: VelocityChange[] = [];
  const muted: string[] = [];
  for (const { voiceId, treatment } of lanes) {
    const hits = byVoice.get(voiceId) ?? [];
    const { ticks, velocities, isLeftOut } = treat(
      hits,
      treatment,
      maps,
      pattern.lengthTicks,
      findVoice(pattern.noteMap, voiceId).family,
    );
    for (const [row, hit] of hits.entries()) {
      const [toTick, toVelocity] = [ticks[row]!, velocities[row]!];
      if (range && (toTick < range.startTick || toTick >= range.endTick)) continue;
      const isMoved = isDecided(treatment, "where") && (range !== null || toTick !== hit.recordedTick);
      const isShaped = isDecided(treatment, "howLoud") && (range !== null || toVelocity !== hit.recordedVelocity);
      if (isMoved && hit.pinnedTick === null) moves.push({ hitId: hit.id, fromTick: null, toTick: pinOf(hit, toTick) });
      if (isShaped && hit.pinnedVelocity === null) changes.push({ hitId: hit.id, fromVelocity: null, toVelocity });
      if (range === null && isLeftOut[row] === 1 && !hit.isMuted) muted.push(hit.id);
    }
  }
  const ofHits: readonly Edit[] = [
    { kind: "moveHits", moves },
    { kind: "setVelocity", changes },
  ];
  if (range) return { kind: "together", edits: ofHits };
  const mute: Edit = { kind: "muteHits", hitIds: muted, toIsMuted: true };
  const off = changeTreatments(pattern, new Set(lanes.map(({ voiceId }) => voiceId)), withoutSteps);
  return { kind: "together", edits: [...ofHits, mute, off] };
}

import { buildTimeMaps } from "../time/index.ts";
import { treat } from "../treat.ts";
import type { Edit, HitMove } from "./edit.ts";
import { hitsByVoice, type Pattern } from "./pattern.ts";

/** A stretch of a pattern, in ticks; its end is no part of it. */
export interface TickRange {
  readonly startTick: number;
  readonly endTick: number;
}

/**
 * Makes the cleaned places of some voices the hits' own, as if a hand had put them there. What was recorded stays beside
 * them. Baked in as a whole, a voice needs its timing no longer, and it is switched off; in a stretch it stays on for the
 * rest, and every hit of the stretch is pinned, so that later settings leave it alone.
 * @param range only hits that sound in it; null for all
 */
export function bakeIn(pattern: Pattern, voiceIds: ReadonlySet<string>, range: TickRange | null): Edit {
  const maps = buildTimeMaps(pattern);
  const byVoice = hitsByVoice(pattern.hits);
  const lanes = pattern.lanes.filter((lane) => voiceIds.has(lane.voiceId) && lane.treatment.timing.isOn);
  const moves = lanes.flatMap(({ voiceId, treatment }): HitMove[] => {
    const hits = byVoice.get(voiceId) ?? [];
    const { ticks } = treat(hits, treatment, maps, pattern.lengthTicks);
    return hits.flatMap((hit, row): HitMove[] => {
      const toTick = ticks[row]!;
      if (hit.pinnedTick !== null) return [];
      const isMeant = range ? toTick >= range.startTick && toTick < range.endTick : toTick !== hit.recordedTick;
      return isMeant ? [{ hitId: hit.id, fromTick: null, toTick }] : [];
    });
  });
  const place: Edit = { kind: "moveHits", moves };
  if (range) return place;
  const changes = lanes.map(({ voiceId, treatment }) => ({
    voiceId,
    from: treatment,
    to: { ...treatment, timing: { ...treatment.timing, isOn: false } },
  }));
  return { kind: "together", edits: [place, { kind: "setTreatments", changes }] };
}

import type { Hit, Pattern } from "./pattern.ts";
import { isSameValue } from "./stale.ts";

export type Difference =
  | "added"
  | "removed"
  | "moved"
  | "loudness"
  | "muted"
  | "length"
  | "role"
  | "swing"
  | "chance"
  | "another drum";

/** How a hit differs between two states of a take. */
export interface HitDifference {
  /** The hit as it is now, or as it was if it is gone. */
  readonly hit: Hit;
  readonly how: readonly Difference[];
}

/** The hits that differ between an earlier state and now, and the voices whose settings do. */
export function differencesBetween(
  earlier: Pattern,
  now: Pattern,
): { readonly hits: readonly HitDifference[]; readonly treatedVoiceIds: readonly string[] } {
  const before = new Map(earlier.hits.map((hit) => [hit.id, hit]));
  const present = new Set(now.hits.map((hit) => hit.id));
  const hits = now.hits.flatMap((hit): HitDifference[] => {
    const was = before.get(hit.id);
    if (!was) return [{ hit, how: ["added"] }];
    const how: Difference[] = [];
    if (was.pinnedTick !== hit.pinnedTick || was.offsetMs !== hit.offsetMs) how.push("moved");
    if (was.pinnedVelocity !== hit.pinnedVelocity) how.push("loudness");
    if (was.isMuted !== hit.isMuted) how.push("muted");
    if (was.lengthTicks !== hit.lengthTicks) how.push("length");
    if (was.role !== hit.role) how.push("role");
    if (was.swingSharePercent !== hit.swingSharePercent) how.push("swing");
    if (!isSameValue(was.chance, hit.chance) || was.deviationPercent !== hit.deviationPercent) how.push("chance");
    if (was.voiceId !== hit.voiceId || was.articulationId !== hit.articulationId) how.push("another drum");
    return how.length > 0 ? [{ hit, how }] : [];
  });
  const removed = earlier.hits.filter((hit) => !present.has(hit.id));
  const treatmentsBefore = new Map(earlier.lanes.map(({ voiceId, treatment }) => [voiceId, treatment]));
  return {
    hits: [...hits, ...removed.map((hit): HitDifference => ({ hit, how: ["removed"] }))],
    treatedVoiceIds: now.lanes
      .filter(({ voiceId, treatment }) => {
        const was = treatmentsBefore.get(voiceId);
        return was !== undefined && !isSameValue(was, treatment);
      })
      .map(({ voiceId }) => voiceId),
  };
}

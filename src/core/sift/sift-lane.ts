import { findVoice, type Voice } from "../document/index.ts";
import { columnsOf, type Hit, hitsByVoice, type Pattern } from "../document/pattern.ts";
import type { Treatment } from "../document/treatment.ts";
import { rolesOf } from "../dynamics/index.ts";
import type { TimeMaps } from "../time/index.ts";
import { type CleanedHits, treat } from "../treat.ts";

/** What a rule needs of a lane. */
export interface SiftLane {
  readonly voice: Voice;
  readonly treatment: Treatment;
  readonly hits: readonly Hit[];
  /** Places in `ROLES`. */
  readonly roles: Uint8Array;
  readonly cleaned: Pick<CleanedHits, "ticks" | "velocities" | "slotTicks" | "driftsMs">;
}

/** A hit that was let through, as it goes out. */
export interface SiftedHit {
  readonly hit: Hit;
  readonly lane: SiftLane;
  readonly row: number;
  readonly tick: number;
}

/** The lanes of a pattern, for shells that have not derived them already. */
export function siftLanesOf(pattern: Pattern, maps: TimeMaps): readonly SiftLane[] {
  const byVoice = hitsByVoice(pattern.hits);
  return pattern.lanes.map(({ voiceId, treatment }) => {
    const hits = byVoice.get(voiceId) ?? [];
    const voice = findVoice(pattern.noteMap, voiceId);
    return {
      voice,
      treatment,
      hits,
      roles: rolesOf(columnsOf(hits), maps.meterMap, treatment.roles),
      cleaned: treat(hits, treatment, maps, pattern.lengthTicks, voice.family),
    };
  });
}

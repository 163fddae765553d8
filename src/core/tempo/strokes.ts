import { findVoice } from "../document/index.ts";
import { baseTick, baseVelocity, type Pattern } from "../document/pattern.ts";
import { whenPlayed } from "../document/timeline.ts";

/** What finding beats needs of a take: every stroke with its time, in order. Row i of every column is one stroke. */
export interface Strokes {
  readonly timesMs: Float64Array;
  /** How much a stroke says of the beat, 0 to 1: loud ones and those of kick and snare say most. */
  readonly weights: Float64Array;
  /** Which voice it is of, by number; voices lag each by a habit of its own. */
  readonly voices: Uint8Array;
  /** 1 for strokes of the hats' pedal, which keeps time by itself. */
  readonly isByPedal: Uint8Array;
  /** What each voice is to the bar. */
  readonly kinds: readonly StrokeKind[];
}

export type StrokeKind = "kick" | "snare" | "cymbal" | "hats" | "other";

const SAYS: Readonly<Record<StrokeKind, number>> = { kick: 1, snare: 1, cymbal: 0.6, hats: 0.4, other: 0.5 };

/** The strokes of a pattern at the times at which they were played, without those that a hand muted. */
export function strokesOf(pattern: Pattern): Strokes {
  const msOf = whenPlayed(pattern);
  const hits = pattern.hits.filter((hit) => !hit.isMuted).toSorted((a, b) => tickOf(a) - tickOf(b));
  const voiceIds = [...new Set(hits.map(({ voiceId }) => voiceId))];
  const kinds = voiceIds.map((voiceId): StrokeKind => {
    const { family } = findVoice(pattern.noteMap, voiceId);
    if (family === "kick" || family === "snare" || family === "hats") return family;
    return family === "cymbals" ? (voiceId === "ride" ? "hats" : "cymbal") : "other";
  });
  const numberOf = new Map(voiceIds.map((voiceId, index) => [voiceId, index]));
  const voices = Uint8Array.from(hits, ({ voiceId }) => numberOf.get(voiceId)!);
  return {
    timesMs: Float64Array.from(hits, (hit) => msOf(tickOf(hit))),
    weights: Float64Array.from(hits, (hit, row) => SAYS[kinds[voices[row]!]!] * (baseVelocity(hit) / 127)),
    voices,
    isByPedal: Uint8Array.from(hits, ({ articulationId }) => (articulationId === "foot" ? 1 : 0)),
    kinds,
  };
}

/** Where a stroke was played; where a hand put it, if it was not played at all. */
const tickOf = (hit: Pattern["hits"][number]) => hit.recordedTick ?? baseTick(hit);

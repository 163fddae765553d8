import type { Family } from "../../document/note-map.ts";
import type { Hit } from "../../document/pattern.ts";

// Hits that nobody played: a pad that triggered twice, and pads that picked up a hard stroke on another.

interface FaultOf {
  readonly hitId: string;
  readonly voiceId: string;
  /** The stroke that caused it. */
  readonly causeId: string;
  readonly causeVoiceId: string;
  /** How long after its cause it came. */
  readonly afterMs: number;
  /** How loud it is in proportion to its cause. */
  readonly loudness: number;
}

export interface DoubleTrigger extends FaultOf {
  readonly kind: "double";
}

export interface CrossTalk extends FaultOf {
  readonly kind: "crossTalk";
  /** Of so many hits of its voice that are as weak, so many came with a stroke of the other. */
  readonly ofWeakHits: number;
  readonly withCause: number;
}

export type Fault = DoubleTrigger | CrossTalk;

/** What a pad picks up from others is no louder. */
export const LOUDEST_TALK = 45;

/** The hits of a voice as they were recorded. */
export interface VoiceTimes {
  readonly voiceId: string;
  readonly family: Family;
  readonly hits: readonly Hit[];
  /** When each was recorded, ascending. */
  readonly timesMs: Float64Array;
  readonly velocities: Float64Array;
}

/**
 * Why a hit is taken for a fault, in a sentence: `Rack tom, 9 % as loud as the snare 3 ms before; 41 of 44 such hits come with one.`
 * @param nameOf the name of a voice
 */
export function faultSentence(fault: Fault, nameOf: (voiceId: string) => string): string {
  const share = `${Math.max(1, Math.round(fault.loudness * 100))} % as loud`;
  const ms = Math.round(Math.abs(fault.afterMs));
  if (fault.kind === "double")
    return `${nameOf(fault.voiceId)}, ${share} as its stroke ${ms} ms before: it triggered twice.`;
  const when = ms === 0 ? "at the same time" : `${ms} ms ${fault.afterMs < 0 ? "after" : "before"}`;
  const cause = nameOf(fault.causeVoiceId).toLowerCase();
  return `${nameOf(fault.voiceId)}, ${share} as the ${cause} ${when}; ${fault.withCause} of ${fault.ofWeakHits} such weak hits come with one.`;
}

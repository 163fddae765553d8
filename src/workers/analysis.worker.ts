import { expose } from "comlink";
import { type Hit, isUnnamedVoice, type PackedPattern, type Pattern, unpackPattern } from "../core/document/index.ts";
import { findDoubts, type Guess, guessNotes } from "../core/notemap/index.ts";
import { summarizeTake, type TakeSummary } from "../core/overview/index.ts";
import { type BeatWishes, studyTempo, type TempoStudy } from "../core/tempo/index.ts";
import { buildTimeMaps } from "../core/time/index.ts";

interface Guesses {
  /** What the notes without a name may be, the surest first. */
  readonly guesses: readonly Guess[];
  /** Names that how they are played speaks against. */
  readonly doubts: readonly Guess[];
}

type TakeStudy = TakeSummary & Guesses;

/** @param faultyIds hits that nobody played: they say nothing of a drum */
function guessesOf(pattern: Pattern, faultyIds: ReadonlySet<string>): Guesses {
  const unnamed = new Set(pattern.hits.flatMap((hit) => (isUnnamedVoice(hit.voiceId) ? [hit.note] : [])));
  const played = pattern.hits.filter(({ id }) => !faultyIds.has(id));
  const all = guessNotes(played, buildTimeMaps(pattern));
  return {
    guesses: all.filter(({ note }) => unnamed.has(note)),
    doubts: findDoubts(pattern.noteMap, pattern.hits, all),
  };
}

/** Hits of the pattern that is studied next, as far as they have come. */
let come: Hit[] = [];

const analysis = {
  /** Takes some hits of the pattern that is studied next. */
  add(hits: readonly Hit[]): void {
    for (const hit of hits) come.push(hit);
  },

  /**
   * How each voice of a pattern was played, and what its notes are.
   * @param rest of the pattern: its hits have come before
   * @param onProgress told how much is done, 0 to 1
   */
  study(rest: Omit<Pattern, "hits">, onProgress: (share: number) => void): TakeStudy {
    const pattern = { ...rest, hits: come };
    come = [];
    const summary = summarizeTake(pattern, onProgress);
    const faultyIds = new Set(summary.lanes.flatMap(({ faults }) => faults.map(({ hitId }) => hitId)));
    return { ...summary, ...guessesOf(pattern, faultyIds) };
  },

  /** Where the beats of a take are, and how they make bars. */
  tempo(packed: PackedPattern, wishes: BeatWishes): TempoStudy {
    return studyTempo(unpackPattern(packed), wishes);
  },
};

export type Analysis = typeof analysis;
expose(analysis);

import { expose } from "comlink";
import { isUnnamedVoice, type Pattern } from "../core/document/index.ts";
import { findDoubts, type Guess, guessNotes } from "../core/notemap/index.ts";
import { summarizeTake, type TakeSummary } from "../core/overview/index.ts";
import { type BeatWishes, studyTempo, type TempoStudy } from "../core/tempo/index.ts";
import { buildTimeMaps } from "../core/time/index.ts";

const analysis = {
  /** How each voice of a pattern was played. @param onProgress told how much is done, 0 to 1 */
  take(pattern: Pattern, onProgress: (share: number) => void): TakeSummary {
    return summarizeTake(pattern, onProgress);
  },

  /** Where the beats of a take are, and how they make bars. */
  tempo(pattern: Pattern, wishes: BeatWishes): TempoStudy {
    return studyTempo(pattern, wishes);
  },

  /**
   * What the notes without a name may be, the surest first, and names that how they are played speaks against.
   * @param faultyIds hits that nobody played: they say nothing of a drum
   */
  guesses(
    pattern: Pattern,
    faultyIds: ReadonlySet<string>,
  ): { readonly guesses: readonly Guess[]; readonly doubts: readonly Guess[] } {
    const unnamed = new Set(pattern.hits.flatMap((hit) => (isUnnamedVoice(hit.voiceId) ? [hit.note] : [])));
    const played = pattern.hits.filter(({ id }) => !faultyIds.has(id));
    const all = guessNotes(played, buildTimeMaps(pattern));
    return {
      guesses: all.filter(({ note }) => unnamed.has(note)),
      doubts: findDoubts(pattern.noteMap, pattern.hits, all),
    };
  },
};

export type Analysis = typeof analysis;
expose(analysis);

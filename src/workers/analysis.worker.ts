import { expose } from "comlink";
import { type Guess, guessNotes, isUnnamedVoice } from "../core/notemap/index.ts";
import { type LaneSummary, type Pattern, summarizeLanes } from "../core/part/index.ts";
import { buildTimeMaps } from "../core/time/index.ts";

const analysis = {
  /** How each voice of a pattern was played. */
  lanes(pattern: Pattern): readonly LaneSummary[] {
    return summarizeLanes(pattern);
  },

  /** What the notes without a name may be, the surest first. */
  guesses(pattern: Pattern): readonly Guess[] {
    const unnamed = new Set(pattern.hits.flatMap((hit) => (isUnnamedVoice(hit.voiceId) ? [hit.note] : [])));
    return guessNotes(pattern.hits, buildTimeMaps(pattern)).filter(({ note }) => unnamed.has(note));
  },
};

export type Analysis = typeof analysis;
expose(analysis);

import { expose } from "comlink";
import { type Guess, guessNotes, isUnnamedVoice, meaningOfNote } from "../core/notemap/index.ts";
import { type LaneSummary, type Pattern, summarizeLanes } from "../core/part/index.ts";
import { buildTimeMaps } from "../core/time/index.ts";

const analysis = {
  /** How each voice of a pattern was played. */
  lanes(pattern: Pattern): readonly LaneSummary[] {
    return summarizeLanes(pattern);
  },

  /** What the notes without a name may be, the surest first. */
  guesses(pattern: Pattern): readonly Guess[] {
    return guessNotes(pattern.hits, buildTimeMaps(pattern)).filter(({ note }) =>
      isUnnamedVoice(meaningOfNote(pattern.noteMap, note).voiceId),
    );
  },
};

export type Analysis = typeof analysis;
expose(analysis);

export { cutRhythm, factsOf, kindOf, PATTERN_KINDS, type PatternFacts, type PatternKind, twinKey } from "./describe.ts";
export { type FoundPattern, findPatterns } from "./find-patterns.ts";
export { faultOfKnock, type Knock, knockOf } from "./knock.ts";
export { makeNew, type NewWish, PIECE_SIZES, type PieceSize, USUAL_NEW } from "./make-new.ts";
export { isBlankMark, LONGEST_PLAYED, type PatternMark } from "./mark.ts";
export { pathsOf, patternFile, plainFileName } from "./pattern-file.ts";
export { barOf, type IndexedRhythm, indexRhythm } from "./pattern-index.ts";
export { FILL_EVERY, MOST_TIMES, PLAYED_ONCE, type Repeated, type RepeatWish, repeated } from "./repeats.ts";
export {
  endOf,
  placeWords,
  type Rhythm,
  type RhythmBar,
  type RhythmStroke,
  rhythmBar,
  rhythmOf,
  weightOf,
} from "./rhythm.ts";
export {
  clashesOf,
  countsFor,
  NO_VARIATION,
  roomOf,
  throwOut,
  toggleKept,
  type Variation,
  type VariedStroke,
  varied,
} from "./vary.ts";
export { patternToMidi } from "./write-pattern.ts";

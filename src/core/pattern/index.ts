export { cutRhythm, factsOf, kindOf, PATTERN_KINDS, type PatternFacts, type PatternKind, twinKey } from "./describe.ts";
export { type FoundPattern, findPatterns } from "./find-patterns.ts";
export { faultOfKnock, type Knock, type KnockStroke, knockOf } from "./knock.ts";
export { type MadePattern, makeNew, type NewWish } from "./make-new.ts";
export { type FiledPattern, type PatternFile, pathsOf, patternFile, type ToldPattern } from "./pattern-file.ts";
export { type IndexedRhythm, indexRhythm } from "./pattern-index.ts";
export { endOf, placeWords, type Rhythm, type RhythmBar, type RhythmStroke, rhythmOf, weightOf } from "./rhythm.ts";
export { clashesOf, countsFor, NO_VARIATION, roomOf, type Variation, type VariedStroke, varied } from "./vary.ts";
export { patternToMidi } from "./write-pattern.ts";

export { type FoundPattern, findPatterns } from "./find-patterns.ts";
export { faultOfKnock, type Knock, type KnockStroke, knockOf } from "./knock.ts";
export { type IndexedRhythm, indexRhythm } from "./pattern-index.ts";
export { type Rhythm, type RhythmBar, type RhythmStroke, rhythmOf } from "./rhythm.ts";

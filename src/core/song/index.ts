export * from "../document/arrangement.ts";
export { addPattern } from "./add-pattern.ts";
export * from "./change-cells.ts";
export * from "./change-patterns.ts";
export { exportSong } from "./export-song.ts";
export { type FoundSection, findSections, seekSections } from "./find-sections.ts";
export { barTicksOf, type LaidPattern, type LaidSide, type LaidVoice, layPattern, withoutFeel } from "./lay-pattern.ts";
export { type LaidSong, type PatternSheet, type PlayableSong, SongDesk } from "./lay-song.ts";
export { type PackedSong, packSong, unpackSheet } from "./pack-sheets.ts";
export { type RhythmOfTake, rhythmsOfTake } from "./rhythms-of-take.ts";
export { type FeelDistance, type FeelProfile, profileOf, type Sameness, samenessOf } from "./sameness.ts";
export { rowsInScope, scopedEdit, scopedTake, scopeOf, spliced } from "./scope.ts";
export {
  type HeardVoice,
  heardVoices,
  type PlacedPattern,
  SIDES,
  type Side,
  type SongTime,
  songTime,
} from "./song-time.ts";
export { barsOf, type SongVoice, songVoices } from "./song-voices.ts";

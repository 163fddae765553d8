export { type NoteUsage, PLACES, type TakeUsage, usageOf } from "./note-usage.ts";
export {
  barCountOf,
  type LaneSummary,
  type PatternSummary,
  summarizePattern,
  summarizeTake,
  type TakeSummary,
} from "./summary.ts";
export { type Thumbnail, thumbnailOf } from "./thumbnail.ts";

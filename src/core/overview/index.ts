export { type NoteUsage, PLACES, type TakeUsage, usageOf } from "./note-usage.ts";
export { barCountOf, type LaneSummary, type PatternSummary, summarizeLanes, summarizePattern } from "./summary.ts";
export { type Thumbnail, thumbnailOf } from "./thumbnail.ts";

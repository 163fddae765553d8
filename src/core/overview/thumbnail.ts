import { type Family, findVoice } from "../document/index.ts";
import { baseTick, baseVelocity, type Pattern } from "../document/pattern.ts";
import { barByIndex, buildMeterMap } from "../time/index.ts";

/** The first bars of a part, small enough for the shelf: rows from the top of the staff to its foot. */
export interface Thumbnail {
  readonly rows: readonly { readonly family: Family; readonly hits: readonly ThumbnailHit[] }[];
}

/** Where in the picture (0 to 1) and how loud (0 to 1). */
export type ThumbnailHit = readonly [place: number, loudness: number];

const THUMBNAIL_BARS = 4;
const MOST_HITS_PER_ROW = 128;

export function thumbnailOf(pattern: Pattern): Thumbnail {
  const endTick = Math.min(
    pattern.lengthTicks,
    barByIndex(buildMeterMap(pattern.ppq, pattern.meters), THUMBNAIL_BARS).startTick,
  );
  const rows = new Map<Family, ThumbnailHit[]>();
  for (const { voiceId } of pattern.lanes) rows.set(findVoice(pattern.noteMap, voiceId).family, []);
  for (const hit of pattern.hits) {
    const row = rows.get(findVoice(pattern.noteMap, hit.voiceId).family);
    if (!row || baseTick(hit) >= endTick || row.length >= MOST_HITS_PER_ROW) continue;
    row.push([round(baseTick(hit) / endTick), round(baseVelocity(hit) / 127)]);
  }
  return { rows: [...rows].map(([family, hits]) => ({ family, hits })) };
}

function round(share: number): number {
  return Math.round(share * 1000) / 1000;
}

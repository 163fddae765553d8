import { type Family, findVoice } from "../document/index.ts";
import { baseTick, baseVelocity, type Pattern } from "../document/pattern.ts";
import { barAt, barByIndex, buildMeterMap } from "../time/index.ts";

/** The fullest bars of a part, small enough for the shelf: rows from the top of the staff to its foot. */
export interface Thumbnail {
  readonly rows: readonly { readonly family: Family; readonly hits: readonly ThumbnailHit[] }[];
}

/** Where in the picture (0 to 1) and how loud (0 to 1). */
export type ThumbnailHit = readonly [place: number, loudness: number];

const THUMBNAIL_BARS = 4;
const MOST_HITS_PER_ROW = 128;

export function thumbnailOf(pattern: Pattern): Thumbnail {
  const [startTick, endTick] = fullestBars(pattern);
  const rows = new Map<Family, ThumbnailHit[]>();
  for (const { voiceId } of pattern.lanes) rows.set(findVoice(pattern.noteMap, voiceId).family, []);
  for (const hit of pattern.hits) {
    const row = rows.get(findVoice(pattern.noteMap, hit.voiceId).family);
    const tick = baseTick(hit);
    if (!row || tick < startTick || tick >= endTick || row.length >= MOST_HITS_PER_ROW) continue;
    row.push([round((tick - startTick) / (endTick - startTick)), round(baseVelocity(hit) / 127)]);
  }
  return { rows: [...rows].map(([family, hits]) => ({ family, hits })) };
}

/** The bars in a row that hold the most hits, the first of them if several hold as many. */
function fullestBars({ ppq, meters, lengthTicks, hits }: Pattern): readonly [startTick: number, endTick: number] {
  const meterMap = buildMeterMap(ppq, meters);
  const counts = new Map<number, number>();
  for (const hit of hits) {
    const { barIndex } = barAt(meterMap, Math.max(0, baseTick(hit)));
    counts.set(barIndex, (counts.get(barIndex) ?? 0) + 1);
  }
  let best = 0;
  let most = 0;
  // The fullest bars begin with one that is played in: of a take of millions of bars only those are looked at.
  for (const first of [...counts.keys()].sort((one, other) => one - other)) {
    let count = 0;
    for (let bar = first; bar < first + THUMBNAIL_BARS; bar++) count += counts.get(bar) ?? 0;
    if (count > most) [best, most] = [first, count];
  }
  const startTick = barByIndex(meterMap, best).startTick;
  const endTick = Math.min(lengthTicks, barByIndex(meterMap, best + THUMBNAIL_BARS).startTick);
  return endTick > startTick ? [startTick, endTick] : [0, Math.max(1, lengthTicks)];
}

function round(share: number): number {
  return Math.round(share * 1000) / 1000;
}

import { baseTick, type Hit } from "../document/pattern.ts";
import {
  barAt,
  barByIndex,
  type GridStretch,
  isSameGrid,
  type TimeMaps,
  tickAfterMs,
  withStretch,
} from "../time/index.ts";
import { type FoundGrid, findGrids } from "./find-grid.ts";
import { collectOnsets, type Onsets, stepOf } from "./onsets.ts";
import { findSwingParts, type SwingParts } from "./swing-parts.ts";

/** A hit so much ahead of a bar line is played for it, in quarters. */
const AHEAD_QUARTERS = 1 / 8;

/**
 * `findGrids` of a take that may swing in some parts and not, or otherwise, in the others: each kind is read by itself, and what is
 * played on another grid in the smaller one is a stretch of it.
 */
export function findGridsInParts(
  byVoice: ReadonlyMap<string, readonly Hit[]>,
  ghostTops: ReadonlyMap<string, number>,
  lateMs: number,
  maps: TimeMaps,
  onProgress: (share: number) => void = () => {},
): ReadonlyMap<string, FoundGrid> {
  const stepTicks = stepOf(byVoice.values(), maps.meterMap.ppq);
  const onsets = [...byVoice.values()].map((hits) => collectOnsets(hits, maps, lateMs, stepTicks));
  const parts = findSwingParts(onsets, maps.meterMap, lateMs);
  if (!parts) return findGrids(byVoice, ghostTops, lateMs, maps, onProgress);
  const found = [0, 1].map((part) => {
    const own = new Map([...byVoice].map(([voiceId, hits]) => [voiceId, hitsOf(hits, parts, part, lateMs, maps)]));
    return findGrids(own, ghostTops, lateMs, maps, (share) => onProgress((part + share) / 2));
  });
  const counts = [0, 1].map((part) => parts.partOfBar.filter((one) => one === part).length);
  const main = counts[0]! >= counts[1]! ? 0 : 1;
  const spans = spansOf(parts, 1 - main, lastBarOf(onsets, maps), maps);
  return new Map(
    [...byVoice.keys()].flatMap((voiceId): [string, FoundGrid][] => {
      const [usual, other] = [found[main]!.get(voiceId), found[1 - main]!.get(voiceId)];
      if (!usual || !other || usual.isPoor) return usual || other ? [[voiceId, (other ?? usual)!]] : [];
      return [[voiceId, other.isPoor ? usual : withPart(usual, other, spans)]];
    }),
  );
}

const partAt = ({ partOfBar }: SwingParts, bar: number) => partOfBar[Math.min(bar, partOfBar.length - 1)]!;

/** The hits of one part. */
function hitsOf(
  hits: readonly Hit[],
  parts: SwingParts,
  part: number,
  lateMs: number,
  { meterMap, tempoMap }: TimeMaps,
): readonly Hit[] {
  const aheadTicks = meterMap.ppq * AHEAD_QUARTERS;
  return hits.filter((hit) => {
    const tick = tickAfterMs(tempoMap, hit.recordedTick ?? baseTick(hit), -lateMs) + aheadTicks;
    return partAt(parts, barAt(meterMap, Math.max(0, tick)).barIndex) === part;
  });
}

interface Span {
  readonly startTick: number;
  readonly endTick: number;
}

const lastBarOf = (voices: readonly Onsets[], { meterMap }: TimeMaps) =>
  barAt(meterMap, Math.max(0, ...voices.map(({ ticks }) => ticks.at(-1) ?? 0))).barIndex;

/** From where to where the bars of one part go. */
function spansOf(parts: SwingParts, part: number, lastBar: number, { meterMap }: TimeMaps): readonly Span[] {
  const spans: Span[] = [];
  for (let bar = 0; bar <= lastBar; bar++) {
    if (partAt(parts, bar) !== part) continue;
    const { startTick, endTick } = barByIndex(meterMap, bar);
    const last = spans.at(-1);
    if (last?.endTick === startTick) spans[spans.length - 1] = { startTick: last.startTick, endTick };
    else spans.push({ startTick, endTick });
  }
  return spans;
}

/** A voice as it is as a rule, and as it is in the other part. */
function withPart(usual: FoundGrid, other: FoundGrid, spans: readonly Span[]): FoundGrid {
  let stretches: readonly GridStretch[] = usual.stretches;
  const lay = ({ startTick, endTick, grid }: GridStretch) => {
    stretches = withStretch({ grid: usual.grid, stretches }, startTick, endTick, grid);
  };
  // What a part has of its own holds for its ghosts and strokes alike.
  const [finest, finestOfUsual] = [other.ghostGrid ?? other.grid, usual.ghostGrid ?? usual.grid];
  if (!isSameGrid(finestOfUsual, finest)) for (const span of spans) lay({ ...span, grid: finest });
  for (const stretch of other.stretches) lay(stretch);
  return {
    ...usual,
    stretches,
    shareExplained: (usual.shareExplained + other.shareExplained) / 2,
    spreadMs: Math.max(usual.spreadMs, other.spreadMs),
    confidence: Math.min(usual.confidence, other.confidence),
  };
}

import { baseTick, type Hit } from "../document/pattern.ts";
import {
  barAt,
  barByIndex,
  type Grid,
  type GridStretch,
  isSameGrid,
  STRAIGHT_PERCENT,
  type TimeMaps,
  tickAfterMs,
  withoutTicks,
} from "../time/index.ts";
import { type FoundGrid, findGrids } from "./find-grid.ts";
import { collectOnsets, stepOf } from "./onsets.ts";
import { findSwingParts, type SwingPart } from "./swing/swing-parts.ts";

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
  const lastTick = Math.max(0, ...onsets.map(({ ticks }) => ticks.at(-1) ?? 0));
  const spans = spansOf(parts, lastTick, maps);
  const hits = KINDS.map(
    (kind) => new Map([...byVoice].map(([voiceId, all]) => [voiceId, hitsOf(all, parts, kind, lateMs, maps)])),
  );
  const found = hits.map((own, kind) =>
    findGrids(own, ghostTops, lateMs, maps, (share) => onProgress((kind + share) / 2)),
  );
  const [hitsOf0 = 0, hitsOf1 = 0] = hits.map((own) => [...own.values()].reduce((sum, all) => sum + all.length, 0));
  const main = hitsOf0 >= hitsOf1 ? 0 : 1;
  const pairs = [...byVoice.keys()].map((voiceId) => ({
    voiceId,
    usual: found[main]!.get(voiceId),
    other: found[1 - main]!.get(voiceId),
    hitCount: Math.min(...hits.map((own) => own.get(voiceId)?.length ?? 0)),
  }));
  // Where no drum that is heard in both swings otherwise in one of them, they were none.
  const isTold = ({ usual, other, hitCount }: (typeof pairs)[number]) =>
    usual && other && hitCount >= FEWEST_TO_TELL && swingsOtherwise(finestOf(usual), finestOf(other));
  if (!pairs.some(isTold)) return findGrids(byVoice, ghostTops, lateMs, maps, onProgress);
  return new Map(
    pairs.flatMap(({ voiceId, usual, other }): [string, FoundGrid][] => {
      if (!usual || !other || usual.isPoor) return usual || other ? [[voiceId, (other ?? usual)!]] : [];
      return [[voiceId, other.isPoor ? usual : withPart(usual, other, spans[1 - main]!)]];
    }),
  );
}

/** Fewer hits in each part do not show that they swing otherwise. */
const FEWEST_TO_TELL = 24;

/** What a voice follows, its ghosts and strokes alike. */
const finestOf = ({ grid, ghostGrid = grid }: FoundGrid) => ghostGrid;

const swingsOtherwise = (one: Grid, other: Grid) =>
  one.family !== other.family || (one.swingPercent ?? STRAIGHT_PERCENT) !== (other.swingPercent ?? STRAIGHT_PERCENT);

const KINDS = [0, 1] as const;

/** The hits that are played in the parts of one kind. */
function hitsOf(
  hits: readonly Hit[],
  parts: readonly SwingPart[],
  kind: SwingPart["kind"],
  lateMs: number,
  { meterMap, tempoMap }: TimeMaps,
): readonly Hit[] {
  const aheadTicks = meterMap.ppq * AHEAD_QUARTERS;
  // Hits are nearly in order: the part of one is that of the last, or beside it.
  let at = 0;
  return hits.filter((hit) => {
    const tick = tickAfterMs(tempoMap, hit.recordedTick ?? baseTick(hit), -lateMs) + aheadTicks;
    const { barIndex } = barAt(meterMap, Math.max(0, tick));
    while (at + 1 < parts.length && parts[at + 1]!.fromBar <= barIndex) at++;
    while (parts[at]!.fromBar > barIndex) at--;
    return parts[at]!.kind === kind;
  });
}

interface Span {
  readonly startTick: number;
  readonly endTick: number;
}

/** From where to where the parts of each kind go; the last to the end of the bar that is played last. */
function spansOf(parts: readonly SwingPart[], lastTick: number, { meterMap }: TimeMaps): readonly (readonly Span[])[] {
  const starts = parts.map(({ fromBar }) => barByIndex(meterMap, fromBar).startTick);
  const ends = [...starts.slice(1), barAt(meterMap, lastTick).endTick];
  return KINDS.map((one) =>
    parts.flatMap(({ kind }, at) => (kind === one ? [{ startTick: starts[at]!, endTick: ends[at]! }] : [])),
  );
}

/** A voice as it is as a rule, and as it is in the parts of the other kind. @param spans where those are */
function withPart(usual: FoundGrid, other: FoundGrid, spans: readonly Span[]): FoundGrid {
  const grid = finestOf(other);
  // Where only ghosts are on the finer steps, strokes of the other part may be on them, too.
  const holds = isSameGrid(finestOf(usual), grid) && (!usual.ghostGrid || isSameGrid(usual.grid, other.grid));
  const cut = spans.reduce((left, { startTick, endTick }) => withoutTicks(left, startTick, endTick), usual.stretches);
  const own = spans.flatMap((span) => stretchesIn(span, other.stretches, holds ? null : grid));
  return {
    ...usual,
    stretches: [...cut, ...own].sort((one, after) => one.startTick - after.startTick),
    shareExplained: (usual.shareExplained + other.shareExplained) / 2,
    spreadMs: Math.max(usual.spreadMs, other.spreadMs),
    confidence: Math.min(usual.confidence, other.confidence),
  };
}

/** The stretches in a span, with a grid between them if it is not the one of the voice. */
function stretchesIn(span: Span, stretches: readonly GridStretch[], between: Grid | null): readonly GridStretch[] {
  const found: GridStretch[] = [];
  let from = span.startTick;
  const fill = (endTick: number) => {
    if (between && endTick > from) found.push({ startTick: from, endTick, grid: between });
  };
  for (const one of stretches) {
    const [startTick, endTick] = [Math.max(from, one.startTick), Math.min(span.endTick, one.endTick)];
    if (endTick <= startTick) continue;
    fill(startTick);
    found.push({ startTick, endTick, grid: one.grid });
    from = endTick;
  }
  fill(span.endTick);
  return found;
}

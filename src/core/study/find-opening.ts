import { baseTick, type Hit } from "../document/pattern.ts";
import {
  barAt,
  type Grid,
  type MeterMap,
  PlanFinder,
  SlotFinder,
  type TimeMaps,
  tickAfterMs,
  tickToMs,
} from "../time/index.ts";
import { isPlain } from "./best-stretches.ts";
import type { FoundGrid } from "./find-grid.ts";

/** The first bars of a take, played freely before its time begins. */
export interface FreeOpening {
  /** How many bars from the start of the take, empty ones before it included. */
  readonly bars: number;
  /** Where it ends: its last tick is the one before. */
  readonly endTick: number;
}

/** How far from its slot a hit may be, in spreads and at least so many ms, and still be played on it. */
const ON_SLOT_SPREADS = 2.5;
const ON_SLOT_MS = 10;
/** Triplets are in time, whatever grid a voice has otherwise. */
const TRIPLETS: Grid = { family: "triplet", denominator: 8 };
/** What is in time is so with about this share of its hits. */
const IN_TIME = { least: 0.8, most: 0.97 } as const;
/** Where this share of a bar is near enough to some slot, hits tell nothing: a loose hand, or a fine grid at a fast tempo. */
const MOST_BY_CHANCE = 0.7;
const CHANCE_POINTS = 96;
/** So much likelier, as a logarithm, must free playing be. */
const SURE = 9;
const FEWEST_HITS = 10;
const FEWEST_BARS = 2;
/** So many bars in time must follow, and as many as the opening has. */
const BARS_AFTER = 4;

/**
 * Finds bars at the start of a take whose hits are anywhere, while those that follow are in time: a rubato opening. To pull them to a
 * grid would make something else of them.
 * @param byVoice the hits of each voice, ascending by base tick
 * @param found how the voices were played
 * @returns null where the take is in time from its start, or where that cannot be told
 */
export function findOpening(
  byVoice: ReadonlyMap<string, readonly Hit[]>,
  found: ReadonlyMap<string, FoundGrid>,
  maps: TimeMaps,
): FreeOpening | null {
  // What each hit says for free playing rather than playing in time, by bar; how many there are, and how many are in time.
  const says: number[] = [];
  const hitsOfBar: number[] = [];
  const inTimeOfBar: number[] = [];
  for (const [voiceId, hits] of byVoice) {
    const own = found.get(voiceId);
    if (!own || own.isPoor) continue;
    const isInTime = inTimeOf(own, maps);
    const byChance = shareByChance(isInTime, maps);
    if (byChance > MOST_BY_CHANCE) continue;
    const inTimeShare = Math.min(IN_TIME.most, Math.max(IN_TIME.least, own.shareExplained));
    for (const hit of hits) {
      const tick = baseTick(hit);
      const { barIndex } = barAt(maps.meterMap, tick);
      const isIn = isInTime(tick);
      const said = isIn ? Math.log(byChance / inTimeShare) : Math.log((1 - byChance) / (1 - inTimeShare));
      says[barIndex] = (says[barIndex] ?? 0) + said;
      hitsOfBar[barIndex] = (hitsOfBar[barIndex] ?? 0) + 1;
      inTimeOfBar[barIndex] = (inTimeOfBar[barIndex] ?? 0) + (isIn ? 1 : 0);
    }
  }
  let [sum, best, bars] = [0, SURE, 0];
  for (let bar = 0; bar < says.length; bar++) {
    sum += says[bar] ?? 0;
    if (sum > best) [best, bars] = [sum, bar + 1];
  }
  const first = hitsOfBar.findIndex((count) => count !== undefined);
  const total = (counts: readonly number[]) => counts.reduce((all, count) => all + (count ?? 0), 0);
  const after = total(hitsOfBar.slice(bars));
  if (bars - first < FEWEST_BARS || total(hitsOfBar.slice(0, bars)) < FEWEST_HITS) return null;
  if (says.length - bars < Math.max(BARS_AFTER, bars - first)) return null;
  if (total(inTimeOfBar.slice(bars)) < IN_TIME.least * after) return null;
  return { bars, endTick: startOfBar(bars, maps) };
}

/** Says of a tick whether a hit there is near a slot of its voice, or of triplets. */
function inTimeOf({ grid, stretches, meanDriftMs, spreadMs }: FoundGrid, { meterMap, tempoMap }: TimeMaps) {
  // Chance finds a beat or two that look like some grid, but no bars of a plain one.
  const long = stretches.filter(
    ({ grid: other, startTick, endTick }) => isPlain(other) && endTick - startTick > barLength(startTick, meterMap),
  );
  const finders = [new PlanFinder({ grid, stretches: long }, meterMap), new SlotFinder(TRIPLETS, meterMap)];
  const nearMs = Math.max(ON_SLOT_MS, ON_SLOT_SPREADS * spreadMs);
  return (tick: number): boolean => {
    const place = tickAfterMs(tempoMap, tick, -meanDriftMs);
    const placeMs = tickToMs(tempoMap, place);
    return finders.some((finder) => Math.abs(tickToMs(tempoMap, finder.find(place).slotTick) - placeMs) <= nearMs);
  };
}

function barLength(tick: number, meterMap: MeterMap): number {
  const { startTick, endTick } = barAt(meterMap, tick);
  return endTick - startTick;
}

/** The share of the first bar that is near enough to some slot. */
function shareByChance(isInTime: (tick: number) => boolean, { meterMap }: TimeMaps): number {
  // The second bar: before the first there is nothing to be near to.
  const { startTick, endTick } = barAt(meterMap, barAt(meterMap, 0).endTick);
  let near = 0;
  for (let point = 0; point < CHANCE_POINTS; point++) {
    if (isInTime(startTick + ((endTick - startTick) * (point + 0.5)) / CHANCE_POINTS)) near++;
  }
  return Math.max(0.02, near / CHANCE_POINTS);
}

function startOfBar(barIndex: number, { meterMap }: TimeMaps): number {
  let bar = barAt(meterMap, 0);
  while (bar.barIndex < barIndex) bar = barAt(meterMap, bar.endTick);
  return bar.startTick;
}

import { barOfGroove, type GrooveLayer, type GrooveSlot, slotCountOf } from "../document/groove.ts";
import { FAMILIES, type Family, lateMsOf } from "../document/index.ts";
import { placeInBar, type SiftLane } from "../sift/index.ts";
import { type Grid, gridStepTicks, type TimeMaps, tickAfterMs } from "../time/index.ts";

/** What a groove is to be taken from, and how it is counted. */
export interface GrooveWish {
  readonly grid: Grid;
  readonly lengthQuarters: number;
  /** One layer for each family of drums, or one for all. */
  readonly isByFamily: boolean;
  /** Only these hits; null for all of the lanes. */
  readonly among: ReadonlySet<string> | null;
  /** From the hits as they were recorded, less the latency that is taken off, or as they go out. */
  readonly side: "recorded" | "cleaned";
  /** The bar from which bars are counted where the groove is longer than one. Left out, the first. */
  readonly firstBar?: number;
}

/** A hit farther than this from the middle of its slot, in spreads, says nothing of the groove. */
const OUTLIER_SPREADS = 2.5;
/** Nobody is steadier than this, in steps. */
const LEAST_SPREAD = 0.02;
/** Hits between the places of the groove are left out: a place is met within this share of a step. */
const ON_PLACE = 0.25;

interface Struck {
  readonly slot: number;
  readonly offset: number;
  readonly velocity: number;
}

/**
 * Takes the layers of a groove from hits: for each place the mean of how far they are off it and how loud they are, without
 * outliers. Few hits are trusted less: what they say is drawn towards the plain shape of all of them (one push, one swing), as far
 * as chance alone would explain the difference.
 * @returns no layers if there is no hit on any place of the grid
 * @source empirical Bayes (James–Stein): toward = variance of chance / (variance of chance + variance between places)
 */
export function takeGroove(lanes: readonly SiftLane[], wish: GrooveWish, maps: TimeMaps): readonly GrooveLayer[] {
  const count = slotCountOf(wish.lengthQuarters, wish.grid);
  const byFamily = new Map<Family | null, Struck[]>();
  for (const lane of lanes) {
    const family = wish.isByFamily ? lane.voice.family : null;
    const struck = struckOf(lane, wish, maps, count);
    byFamily.set(family, [...(byFamily.get(family) ?? []), ...struck]);
  }
  const order = [null, ...FAMILIES];
  return [...byFamily]
    .filter(([, struck]) => struck.length > 0)
    .sort(([a], [b]) => order.indexOf(a) - order.indexOf(b))
    .map(([family, struck]) => ({ family, slots: learnSlots(struck, count) }));
}

function struckOf(
  lane: SiftLane,
  wish: GrooveWish,
  { meterMap, tempoMap }: TimeMaps,
  count: number,
): readonly Struck[] {
  const { grid, lengthQuarters, among, side, firstBar = 0 } = wish;
  const stepTicks = gridStepTicks(grid, meterMap.ppq);
  const lengthTicks = lengthQuarters * meterMap.ppq;
  return lane.hits.flatMap((hit, row): Struck[] => {
    if (hit.isMuted || (among && !among.has(hit.id))) return [];
    const isRecorded = side === "recorded" && hit.recordedTick !== null;
    // What a slow module makes late nobody has played.
    const lateMs = lateMsOf(hit, lane.treatment.timing);
    const tick = isRecorded ? tickAfterMs(tempoMap, hit.recordedTick!, -lateMs) : lane.cleaned.ticks[row]!;
    const velocity =
      side === "recorded" ? (hit.recordedVelocity ?? lane.cleaned.velocities[row]!) : lane.cleaned.velocities[row]!;
    const { bar, inBarTicks } = placeInBar(lane.cleaned.slotTicks[row]!, lane.treatment.timing, meterMap);
    // Where a groove is longer than a bar, bars are counted on from its first one.
    const barTicks = bar.endTick - bar.startTick;
    const barStart = barOfGroove(lengthTicks, barTicks, bar.barIndex - firstBar) * barTicks;
    const place = ((barStart + inBarTicks) % lengthTicks) / stepTicks;
    const slot = Math.round(place);
    if (Math.abs(place - slot) > ON_PLACE) return [];
    const evenTick = bar.startTick + inBarTicks;
    return [{ slot: slot % count, offset: (tick - evenTick) / stepTicks, velocity }];
  });
}

function learnSlots(struck: readonly Struck[], count: number): readonly GrooveSlot[] {
  const kept = withoutOutliers(struck, count);
  const meanVelocity = mean(kept.map(({ velocity }) => velocity));
  const bySlot = Array.from({ length: count }, (_, slot) => kept.filter((one) => one.slot === slot));
  const raw = bySlot.map((own) => mean(own.map(({ offset }) => offset)));
  const plain = plainShape(bySlot, raw);
  const spread = Math.sqrt(pooledVariance(bySlot.map((own) => own.map(({ offset }) => offset))));
  const offsets = shrunk(
    bySlot.map((own) => own.length),
    raw,
    plain,
    spread ** 2,
  );
  const rawAccents = bySlot.map((own) => mean(own.map(({ velocity }) => velocity)) / meanVelocity);
  const accentVariance = pooledVariance(bySlot.map((own) => own.map(({ velocity }) => velocity / meanVelocity)));
  const accents = shrunk(
    bySlot.map((own) => own.length),
    rawAccents,
    rawAccents.map(() => 1),
    accentVariance,
  );
  return bySlot.map((own, slot): GrooveSlot => {
    const spreadHere = own.length > 1 ? Math.sqrt(pooledVariance([own.map(({ offset }) => offset)])) : spread;
    // Where nobody played, a hit would follow the plain shape, as loud as the mean.
    if (own.length === 0) return { offset: plain[slot]!, accent: 1, hitCount: 0, spread: 0 };
    return { offset: offsets[slot]!, accent: accents[slot]!, hitCount: own.length, spread: spreadHere };
  });
}

/** One push for all, and one swing for every second place: what nearly every feel is made of. */
function plainShape(bySlot: readonly (readonly Struck[])[], raw: readonly number[]): readonly number[] {
  const meanOf = (parity: number) => {
    const own = bySlot.flatMap((hits, slot) => (slot % 2 === parity ? hits : []));
    return own.length > 0 ? mean(own.map(({ offset }) => offset)) : null;
  };
  const [even, odd] = [meanOf(0), meanOf(1)];
  const all = mean(bySlot.flat().map(({ offset }) => offset));
  return raw.map((_, slot) => (slot % 2 === 0 ? (even ?? all) : (odd ?? all)));
}

/** Draws each value towards a plain one, the more the fewer hits it comes from. */
function shrunk(
  counts: readonly number[],
  raw: readonly number[],
  plain: readonly number[],
  variance: number,
): readonly number[] {
  const played = counts.flatMap((count, slot) => (count > 0 ? [slot] : []));
  const between = played.reduce((sum, slot) => sum + (raw[slot]! - plain[slot]!) ** 2, 0) / Math.max(1, played.length);
  const chance = played.reduce((sum, slot) => sum + variance / counts[slot]!, 0) / Math.max(1, played.length);
  // What differs between places is itself known the less the fewer of them there are.
  const doubt = 1 + Math.sqrt(2 / Math.max(1, played.length));
  const real = Math.max(0, between - doubt * chance);
  return raw.map((value, slot) => {
    const count = counts[slot]!;
    if (count === 0) return plain[slot]!;
    const own = variance / count;
    const trust = real + own > 0 ? real / (real + own) : 1;
    return plain[slot]! + trust * (value - plain[slot]!);
  });
}

function withoutOutliers(struck: readonly Struck[], count: number): readonly Struck[] {
  const bySlot = Array.from({ length: count }, (_, slot) =>
    struck.filter((one) => one.slot === slot).map(({ offset }) => offset),
  );
  const medians = bySlot.map(middle);
  // Of few hits each is near their own middle, and one alone is on it: the fewer they are, the more its distance counts.
  const distances = struck.map(({ slot, offset }) => {
    const { length } = bySlot[slot]!;
    return length > 1 ? Math.abs(offset - medians[slot]!) * Math.sqrt(length / (length - 1)) : 0;
  });
  const told = distances.filter((_, index) => bySlot[struck[index]!.slot]!.length > 1);
  const spread = Math.max(LEAST_SPREAD, 1.4826 * middle(told));
  return struck.filter((_, index) => distances[index]! <= OUTLIER_SPREADS * spread);
}

function pooledVariance(groups: readonly (readonly number[])[]): number {
  let squares = 0;
  let freedom = 0;
  for (const group of groups) {
    if (group.length < 2) continue;
    const own = mean(group);
    for (const value of group) squares += (value - own) ** 2;
    freedom += group.length - 1;
  }
  return freedom > 0 ? squares / freedom : 0;
}

function mean(values: readonly number[]): number {
  return values.length === 0 ? 0 : values.reduce((sum, value) => sum + value, 0) / values.length;
}

function middle(values: readonly number[]): number {
  const sorted = values.toSorted((a, b) => a - b);
  const half = sorted.length / 2;
  return ((sorted[Math.ceil(half) - 1] ?? 0) + (sorted[Math.floor(half)] ?? 0)) / 2;
}

import type { Hit, LaneColumns } from "../part/pattern.ts";
import { barAt, gridStepTicks, type MeterMap } from "../time/index.ts";
import { type NoiseShape, noiseOf } from "../timing/humanize.ts";
import type { DynamicsTreatment, LoudnessCycle, RoleShape } from "../treatment.ts";
import { ROLES } from "./roles.ts";

/** How loud a lane goes out. Row i is hit i. */
export interface ShapedVelocities {
  /** 1 to 127. */
  readonly velocities: Uint8Array;
  /** Hits that would have been louder than 127 or softer than 1, and end up alike. */
  readonly clippedCount: number;
}

const SOFTEST = 1;
const LOUDEST = 127;

/**
 * Shapes the loudness of a voice: each role, then the whole, its range around its middle, the cycle, chance, and the limits.
 * Hits whose loudness a hand has set, spared strokes, and stretches where the step is off keep theirs.
 * @param roles places in `ROLES`
 * @param slotTicks where each hit belongs: what is early or late still has the loudness of its step
 * @source v' = limit(chance + cycle · (middle + range · (loudness · role(v) − middle)))
 */
export function shapeVelocities(
  hits: readonly Hit[],
  lane: LaneColumns,
  roles: Uint8Array,
  slotTicks: Float64Array,
  dynamics: DynamicsTreatment,
  meterMap: MeterMap,
): ShapedVelocities {
  const { velocities, isVelocityPinned } = lane;
  if (!dynamics.isOn) return { velocities: new Uint8Array(velocities), clippedCount: 0 };
  const isOff = rowsOff(hits, slotTicks, dynamics);
  const isKept = (row: number) => isVelocityPinned[row] === 1 || isOff[row] === 1;
  const byRole = ROLES.map((role) => dynamics.byRole?.[role]);
  const medians = byRole.map((shape, role) =>
    shape?.evenOutPercent ? medianOf(velocities, (row) => roles[row] === role) : 0,
  );
  const middle = dynamics.middleVelocity ?? medianOf(velocities, () => true);
  const settingsAt = loudnessByRow(dynamics, slotTicks);
  const factors = dynamics.cycle ? cycleFactors(dynamics.cycle, slotTicks, meterMap) : null;
  const noise = dynamics.deviation > 0 ? noiseOfLane(hits, dynamics.deviationSeed, dynamics.deviationShape) : null;
  const wanted = new Float64Array(velocities.length);
  for (let row = 0; row < wanted.length; row++) {
    const before = velocities[row]!;
    if (isKept(row)) {
      wanted[row] = before;
      continue;
    }
    const role = roles[row]!;
    const shape = byRole[role];
    const { loudnessPercent, rangePercent } = settingsAt(row);
    const shaped = (shape ? shapeOfRole(before, shape, medians[role]!) : before) * (loudnessPercent / 100);
    const ranged = middle + (shaped - middle) * (rangePercent / 100);
    wanted[row] = ranged * (factors ? factors[row]! : 1) + (noise ? dynamics.deviation * noise[row]! : 0);
  }
  if (dynamics.fitsIn) fitIn(wanted, roles, isKept, dynamics);
  return limited(wanted, velocities, isKept, dynamics);
}

function shapeOfRole(velocity: number, shape: RoleShape, median: number): number {
  const { setVelocity, evenOutPercent = 0, scalePercent = 100, addVelocity = 0 } = shape;
  const { lowestVelocity = SOFTEST, highestVelocity = Number.POSITIVE_INFINITY } = shape;
  const set = setVelocity ?? velocity;
  const evened = set + (evenOutPercent / 100) * ((setVelocity ?? median) - set);
  return Math.max(lowestVelocity, Math.min(highestVelocity, evened * (scalePercent / 100) + addVelocity));
}

function limited(
  wanted: Float64Array,
  before: Float64Array,
  isKept: (row: number) => boolean,
  { lowestVelocity, highestVelocity }: DynamicsTreatment,
): ShapedVelocities {
  const velocities = new Uint8Array(wanted.length);
  const lowest = Math.max(SOFTEST, lowestVelocity);
  const highest = Math.max(lowest, Math.min(LOUDEST, highestVelocity));
  let clippedCount = 0;
  for (let row = 0; row < wanted.length; row++) {
    if (isKept(row)) {
      velocities[row] = before[row]!;
      continue;
    }
    const value = Math.round(wanted[row]!);
    if (value > LOUDEST || value < SOFTEST) clippedCount++;
    velocities[row] = Math.max(lowest, Math.min(highest, value));
  }
  return { velocities, clippedCount };
}

/** Scales each role that goes over the top until its loudest is there, and lifts what would be too soft, with its shape kept. */
function fitIn(
  wanted: Float64Array,
  roles: Uint8Array,
  isKept: (row: number) => boolean,
  { lowestVelocity, highestVelocity }: DynamicsTreatment,
): void {
  for (let role = 0; role < ROLES.length; role++) {
    let softest = Number.POSITIVE_INFINITY;
    let loudest = Number.NEGATIVE_INFINITY;
    for (let row = 0; row < wanted.length; row++) {
      if (roles[row] !== role || isKept(row)) continue;
      softest = Math.min(softest, wanted[row]!);
      loudest = Math.max(loudest, wanted[row]!);
    }
    const factor = loudest > highestVelocity ? highestVelocity / loudest : 1;
    const [soft, loud] = [softest * factor, loudest * factor];
    const low = Math.min(Math.max(soft, lowestVelocity), loud);
    if (factor === 1 && low === soft) continue;
    const scale = loud > soft ? (loud - low) / (loud - soft) : 1;
    for (let row = 0; row < wanted.length; row++) {
      if (roles[row] === role && !isKept(row)) wanted[row] = low + (wanted[row]! * factor - soft) * scale;
    }
  }
}

/** The factor of each hit's step, counted from the bar line that its slot follows. */
function cycleFactors({ grid, percents }: LoudnessCycle, slotTicks: Float64Array, meterMap: MeterMap): Float64Array {
  const factors = new Float64Array(slotTicks.length);
  const stepTicks = gridStepTicks(grid, meterMap.ppq);
  let bar = barAt(meterMap, 0);
  for (let row = 0; row < factors.length; row++) {
    const tick = Math.max(0, slotTicks[row]!);
    if (tick < bar.startTick || tick >= bar.endTick) bar = barAt(meterMap, tick);
    const step = Math.floor((tick - bar.startTick) / stepTicks + 1e-6);
    factors[row] = percents.length > 0 ? percents[step % percents.length]! / 100 : 1;
  }
  return factors;
}

/** 1 for hits that the step leaves alone: spared strokes, and stretches where it is off. */
function rowsOff(hits: readonly Hit[], slotTicks: Float64Array, dynamics: DynamicsTreatment): Uint8Array {
  const isOff = new Uint8Array(hits.length);
  const spared = new Set(dynamics.sparedArticulationIds);
  const exceptions = (dynamics.exceptions ?? []).filter(({ isOn }) => isOn === false);
  if (spared.size === 0 && exceptions.length === 0) return isOff;
  for (let row = 0; row < hits.length; row++) {
    const tick = slotTicks[row]!;
    const isSpared = spared.has(hits[row]!.articulationId);
    if (isSpared || exceptions.some(({ startTick, endTick }) => tick >= startTick && tick < endTick)) isOff[row] = 1;
  }
  return isOff;
}

type Loudness = Pick<DynamicsTreatment, "loudnessPercent" | "rangePercent">;

function loudnessByRow(dynamics: DynamicsTreatment, slotTicks: Float64Array): (row: number) => Loudness {
  const { exceptions = [], loudnessPercent, rangePercent } = dynamics;
  const usual = { loudnessPercent, rangePercent };
  if (exceptions.length === 0) return () => usual;
  return (row) => {
    const tick = slotTicks[row]!;
    const here = exceptions.find(({ startTick, endTick }) => tick >= startTick && tick < endTick);
    return here
      ? {
          loudnessPercent: here.loudnessPercent ?? loudnessPercent,
          rangePercent: here.rangePercent ?? rangePercent,
        }
      : usual;
  };
}

/** The middle velocity of some hits; 0 if there are none. Counted, not sorted: there are only 127 values. */
export function medianOf(velocities: ArrayLike<number>, isCounted: (row: number) => boolean): number {
  const counts = new Uint32Array(128);
  let total = 0;
  for (let row = 0; row < velocities.length; row++) {
    if (!isCounted(row)) continue;
    counts[velocities[row]!]!++;
    total++;
  }
  let passed = 0;
  for (let velocity = 0; velocity < 128; velocity++) {
    passed += counts[velocity]!;
    if (passed * 2 >= total && total > 0) return velocity;
  }
  return 0;
}

const NOISE_SALT = 7919;

/** The noise of a lane is asked for on every frame of a drag; another than that of its timing, or loud hits would be late. */
const noises = new WeakMap<readonly Hit[], { readonly key: string; readonly noise: Float64Array }>();

function noiseOfLane(hits: readonly Hit[], seed: number, shape: NoiseShape): Float64Array {
  const key = `${shape} ${seed}`;
  const known = noises.get(hits);
  if (known?.key === key) return known.noise;
  const noise = Float64Array.from(hits, ({ id }) => noiseOf(id, seed + NOISE_SALT, shape));
  noises.set(hits, { key, noise });
  return noise;
}

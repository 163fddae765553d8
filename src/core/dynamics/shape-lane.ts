import type { Hit, LaneColumns } from "../document/pattern.ts";
import { ROLES } from "../document/role.ts";
import type { DynamicsTreatment, LoudnessCycle, NoiseShape, RoleShape } from "../document/treatment.ts";
import { noiseOf } from "../humanize.ts";
import { remembering } from "../remember.ts";
import { barAt, gridStepTicks, type MeterMap } from "../time/index.ts";

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
  const { velocities } = lane;
  if (!dynamics.isOn) return { velocities: new Uint8Array(velocities), clippedCount: 0 };
  const isKept = rowsKept(hits, lane, slotTicks, dynamics);
  const { cells, counts } = rememberCells(roles, [velocities], () => cellsOf(velocities, roles));
  const tableOf = tables(counts, dynamics);
  const usual = tableOf(dynamics);
  const exceptions = (dynamics.exceptions ?? []).map((one) => ({
    ...one,
    table: tableOf({
      loudnessPercent: one.loudnessPercent ?? dynamics.loudnessPercent,
      rangePercent: one.rangePercent ?? dynamics.rangePercent,
    }),
  }));
  const factors = dynamics.cycle ? cycleFactors(dynamics.cycle, slotTicks, meterMap) : null;
  const noise = dynamics.deviation > 0 ? noiseOfLane(hits, dynamics.deviationSeed, dynamics.deviationShape) : null;
  const { deviation } = dynamics;
  const chances = Float64Array.from(ROLES, (role) => (dynamics.byRole?.[role]?.chancePercent ?? 100) / 100);
  const { deviationShares } = lane;
  const wanted = new Float64Array(velocities.length);
  for (let row = 0; row < wanted.length; row++) {
    if (isKept[row] === 1) {
      wanted[row] = velocities[row]!;
      continue;
    }
    const table = exceptions.length === 0 ? usual : (exceptionAt(exceptions, slotTicks[row]!)?.table ?? usual);
    const shaped = table[cells[row]!]! * (factors ? factors[row]! : 1);
    const share = chances[roles[row]!]! * (deviationShares?.[row] ?? 1);
    wanted[row] = noise ? shaped + deviation * noise[row]! * share : shaped;
  }
  if (dynamics.fitsIn) fitIn(wanted, roles, isKept, dynamics);
  return limited(wanted, velocities, isKept, dynamics);
}

const VELOCITIES = 128;

/** Which hits are of one role and one velocity, and how many those are. */
interface Cells {
  /** For each hit `role · 128 + velocity`. */
  readonly cells: Uint16Array;
  readonly counts: Uint32Array;
}

/** Whatever setting is dragged, the hits and their roles stay. */
const rememberCells = remembering<Uint8Array, Cells>();

function cellsOf(velocities: Float64Array, roles: Uint8Array): Cells {
  const cells = new Uint16Array(velocities.length);
  const counts = new Uint32Array(ROLES.length * VELOCITIES);
  for (let row = 0; row < cells.length; row++) {
    const cell = roles[row]! * VELOCITIES + velocities[row]!;
    cells[row] = cell;
    counts[cell]!++;
  }
  return { cells, counts };
}

type Loudness = Pick<DynamicsTreatment, "loudnessPercent" | "rangePercent">;

/**
 * What becomes of each velocity of each role, before the cycle and chance: there are only 127 of them, and thousands of hits.
 * @returns makes a table for how loud and how dynamic; the value of a role and a velocity is at `role · 128 + velocity`
 */
function tables(
  counts: Uint32Array,
  { byRole, middleVelocity }: DynamicsTreatment,
): (loudness: Loudness) => Float64Array {
  const middle = middleVelocity ?? medianOf([...ROLES.keys()].map((place) => countsOf(counts, place)));
  const shaped = new Float64Array(ROLES.length * VELOCITIES);
  for (const [place, role] of ROLES.entries()) {
    const shape = byRole?.[role];
    const median = shape?.evenOutPercent ? medianOf([countsOf(counts, place)]) : 0;
    for (let velocity = 0; velocity < VELOCITIES; velocity++) {
      shaped[place * VELOCITIES + velocity] = shape ? shapeOfRole(velocity, shape, median) : velocity;
    }
  }
  return ({ loudnessPercent, rangePercent }) =>
    shaped.map((value) => middle + ((value * loudnessPercent) / 100 - middle) * (rangePercent / 100));
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
  isKept: Uint8Array,
  { lowestVelocity, highestVelocity }: DynamicsTreatment,
): ShapedVelocities {
  const velocities = new Uint8Array(wanted.length);
  const lowest = Math.max(SOFTEST, lowestVelocity);
  const highest = Math.max(lowest, Math.min(LOUDEST, highestVelocity));
  let clippedCount = 0;
  for (let row = 0; row < wanted.length; row++) {
    if (isKept[row] === 1) {
      velocities[row] = before[row]!;
      continue;
    }
    const value = Math.round(wanted[row]!);
    if (value > LOUDEST || value < SOFTEST) clippedCount++;
    velocities[row] = Math.max(lowest, Math.min(highest, value));
  }
  return { velocities, clippedCount };
}

/**
 * Scales each role that goes over the top until its loudest is there, and lifts what would be too soft, with its shape kept.
 * @param wanted how loud each hit is to be, in and out
 * @param roles places in `ROLES`
 * @param isKept 1 for hits that stay as they are, and do not count
 */
export function fitIn(
  wanted: Float64Array,
  roles: Uint8Array,
  isKept: Uint8Array,
  { lowestVelocity, highestVelocity }: Pick<DynamicsTreatment, "lowestVelocity" | "highestVelocity">,
): void {
  const softest = ROLES.map(() => Number.POSITIVE_INFINITY);
  const loudest = ROLES.map(() => Number.NEGATIVE_INFINITY);
  for (let row = 0; row < wanted.length; row++) {
    if (isKept[row] === 1) continue;
    const role = roles[row]!;
    const value = wanted[row]!;
    if (value < softest[role]!) softest[role] = value;
    if (value > loudest[role]!) loudest[role] = value;
  }
  // Each role goes along a straight line: value · factor + shift.
  const [factors, shifts] = [new Float64Array(ROLES.length).fill(1), new Float64Array(ROLES.length)];
  let isChanged = false;
  for (const role of ROLES.keys()) {
    const factor = loudest[role]! > highestVelocity ? highestVelocity / loudest[role]! : 1;
    const [soft, loud] = [softest[role]! * factor, loudest[role]! * factor];
    const low = Math.min(Math.max(soft, lowestVelocity), loud);
    const scale = loud > soft ? (loud - low) / (loud - soft) : 1;
    if (factor === 1 && low === soft) continue;
    factors[role] = factor * scale;
    shifts[role] = low - soft * scale;
    isChanged = true;
  }
  if (!isChanged) return;
  for (let row = 0; row < wanted.length; row++) {
    if (isKept[row] === 0) wanted[row] = wanted[row]! * factors[roles[row]!]! + shifts[roles[row]!]!;
  }
}

/** The factor of each hit's step, counted from the bar line that its slot follows. */
function cycleFactors({ grid, percents }: LoudnessCycle, slotTicks: Float64Array, meterMap: MeterMap): Float64Array {
  const factors = new Float64Array(slotTicks.length);
  const stepTicks = gridStepTicks(grid, meterMap.ppq);
  const turn = Float64Array.from(percents.length > 0 ? percents : [100], (percent) => percent / 100);
  let bar = barAt(meterMap, 0);
  for (let row = 0; row < factors.length; row++) {
    const tick = Math.max(0, slotTicks[row]!);
    if (tick < bar.startTick || tick >= bar.endTick) bar = barAt(meterMap, tick);
    // Whole numbers: the remainder of others is a call of its own.
    const step = Math.floor((tick - bar.startTick) / stepTicks + 1e-6) | 0;
    factors[row] = turn[step % turn.length]!;
  }
  return factors;
}

/** 1 for hits that the step leaves alone: made as loud by a hand, of spared strokes, and in stretches where it is off. */
function rowsKept(
  hits: readonly Hit[],
  lane: LaneColumns,
  slotTicks: Float64Array,
  dynamics: DynamicsTreatment,
): Uint8Array {
  const spared = new Set(dynamics.sparedArticulationIds);
  const off = (dynamics.exceptions ?? []).filter(({ isOn }) => isOn === false);
  if (spared.size === 0 && off.length === 0) return lane.isVelocityPinned;
  const isKept = lane.isVelocityPinned.slice();
  for (let row = 0; row < hits.length; row++) {
    if (spared.has(hits[row]!.articulationId) || exceptionAt(off, slotTicks[row]!)) isKept[row] = 1;
  }
  return isKept;
}

function exceptionAt<Exception extends { readonly startTick: number; readonly endTick: number }>(
  exceptions: readonly Exception[],
  tick: number,
): Exception | undefined {
  return exceptions.find(({ startTick, endTick }) => tick >= startTick && tick < endTick);
}

function countsOf(counts: Uint32Array, place: number): Uint32Array {
  return counts.subarray(place * VELOCITIES, (place + 1) * VELOCITIES);
}

/** The middle velocity of hits that are counted by velocity; 0 if there are none. */
function medianOf(groups: readonly Uint32Array[]): number {
  const total = groups.reduce((sum, counts) => sum + counts.reduce((own, count) => own + count, 0), 0);
  let passed = 0;
  for (let velocity = 0; velocity < VELOCITIES; velocity++) {
    for (const counts of groups) passed += counts[velocity]!;
    if (passed * 2 >= total && total > 0) return velocity;
  }
  return 0;
}

const NOISE_SALT = 7919;

/** The noise of a lane is asked for on every frame of a drag; another than that of its timing, or loud hits would be late. */
const rememberNoise = remembering<readonly Hit[], Float64Array>();

function noiseOfLane(hits: readonly Hit[], seed: number, shape: NoiseShape): Float64Array {
  return rememberNoise(hits, [seed, shape], () =>
    Float64Array.from(hits, ({ id }) => noiseOf(id, seed + NOISE_SALT, shape)),
  );
}

import { type Grid, type GridStretch, gridStepTicks, isSameGrid } from "../time/index.ts";
import { median, summarizeDrifts } from "../timing/drift.ts";
import { BarSlots, type Levels, levelsOf } from "./bar-slots.ts";
import { type Onsets, stepMsOf } from "./onsets.ts";

// How likely a voice is to have been played on a grid. Each candidate says: a hit is on a slot, off by the voice's habit and a
// normal spread, or (rarely) anywhere in the bar. Its slots fall into levels (quarters, the eighths between, the sixteenths
// between those …), and each level has the share of the hits that is found on it.

/** A priori share of hits that belong to no slot. */
const STRAY_SHARE = 0.02;
/** What is known of how a voice was played before its first hit is looked at. */
export interface KnownOfTake {
  /** How late the whole take came in: habits are sought around it. */
  readonly lateMs: number;
  /** How far hits are off their slots in the take as a whole. */
  readonly spreadMs: number;
  /** Counts as if so many of a voice's own hits had shown it. */
  readonly worthHits: number;
  /** Whether it was seen in this take, so that a voice of another spread is less likely. */
  readonly isSeen: boolean;
  /** Grids that some of its voices follow. */
  readonly grids: readonly Grid[];
}

/** A player of whom nothing is known yet. */
export const USUAL_PLAYER: KnownOfTake = { lateMs: 0, spreadMs: 8, worthHits: 4, isSeen: false, grids: [] };
/** How far a voice sits off the line by habit, as a rule. */
export const USUAL_HABIT_MS = 12;
/** No hand is looser than this, nor than hits that are anywhere in a step: wide steps or narrow ones would explain anything. */
const LOOSEST_MS = 40;
const LOOSEST_OF_STEP = 0.3;
/**
 * Who plays sixteenths plays some of them on eighths. A grid on which nearly all hits are beside those is likely a step off, and
 * does not gain by its few slots: hits are expected on any of them alike. But some drums are played between the others throughout, as
 * the snare of a blast: however many hits there are, they cost no more than the price.
 */
const MOST_BESIDE_SHARE = 0.85;
const BESIDE_PRICE = 20;
/** Nobody sits farther than this off the line, or off how late the take is. */
const FARTHEST_HABIT_MS = 45;
/** Dotted steps are few: what is beside all of them is on other steps. */
const FARTHEST_HABIT_DOTTED_MS = 35;
const RARE_FINEST_SHARE = 0.12;
const RARE_PRICE = 6;
/** A grid is played only if at least this share of the hits is on slots that no coarser grid has. */
const SMALLEST_FINEST_SHARE = 0.02;

/** A grid as it fits a voice. */
export interface GridModel {
  readonly grid: Grid;
  /** The logarithm of how likely the hits are on it, less what its fineness costs. */
  readonly score: number;
  /** How late the whole take came in, as far as it was known. */
  readonly lateMs: number;
  /** The voice's habit, late is positive. */
  readonly meanDriftMs: number;
  readonly spreadMs: number;
  /** The same of these hits alone, without what is known of the take. */
  readonly ownSpreadMs: number;
  readonly levels: Levels;
  /** The share of all hits that is expected on one slot of each level, in a usual bar. */
  readonly densityOfLevel: Float64Array;
}

/**
 * Fits a grid to the onsets of a voice.
 * @param known of the take as a whole
 * @param startMs a habit to begin from, if not the one that circles round a step
 * @source maximum likelihood with the Bayesian information criterion
 */
export function fitGrid(grid: Grid, onsets: Onsets, ppq: number, known: KnownOfTake, startMs?: number): GridModel {
  const { lateMs } = known;
  const { msPerTick } = onsets;
  const count = onsets.ticks.length;
  const levels = levelsOf(grid, ppq, onsets);
  const driftsMs = new Float64Array(count);
  const levelOfHit = new Uint8Array(count);
  const finder = new BarSlots(grid, ppq);
  let meanDriftMs = startMs ?? habitAround(lateMs, onsets, finder.stepTicks);
  // The mean and the slots depend on each other; both settle within a few rounds, most of them in the second.
  let isSettled = false;
  for (let round = 0; round < 3 && !isSettled; round++) {
    isSettled = round > 0;
    for (let row = 0; row < count; row++) {
      const inBar = onsets.inBarTicks[row]!;
      finder.find(inBar - meanDriftMs / msPerTick[row]!, onsets.barTicks[row]!);
      const driftMs = (inBar - finder.slot) * msPerTick[row]!;
      if (driftMs !== driftsMs[row]) isSettled = false;
      driftsMs[row] = driftMs;
      levelOfHit[row] = finder.isBarEnd ? 0 : levels.levelOfSlot[finder.index]!;
    }
    if (!isSettled) meanDriftMs = median(driftsMs);
  }
  const ownSpreadMs = summarizeDrifts(driftsMs, stepMsOf(onsets)).spreadMs;
  const { worthHits } = known;
  const seenMs = Math.sqrt((count * ownSpreadMs ** 2 + worthHits * known.spreadMs ** 2) / (count + worthHits));
  const stepMs = finder.stepTicks * (msPerTick[0] ?? 1);
  const spreadMs = Math.min(LOOSEST_MS, LOOSEST_OF_STEP * stepMs, seenMs);
  const hitsOfLevel = new Float64Array(levels.slotsOfLevel.length);
  for (const level of levelOfHit) hitsOfLevel[level]!++;
  const isPlayed = known.grids.some((one) => isSameGrid(one, grid));
  // Triplets and quintuplets that no other voice plays are a wonder at any length.
  const isTuplet = grid.family === "triplet" || grid.family === "quintuplet";
  const isWonder = isTuplet && known.isSeen && !isPlayed;
  const densityOfLevel = hitsOfLevel.map((hits, level) => hits / count / Math.max(1, levels.slotsOfLevel[level]!));
  const model = { grid, lateMs, meanDriftMs, spreadMs, ownSpreadMs, levels, densityOfLevel };
  let score = -priceOfBeside(hitsOfLevel, levels, isWonder ? ppq : ppq / 4, ppq);
  if (isSettled) {
    // Every hit is on the slot that it was found on last.
    for (let row = 0; row < count; row++) {
      const barMs = onsets.barTicks[row]! * msPerTick[row]!;
      score += Math.log(likelihood(driftsMs[row]! - meanDriftMs, spreadMs, densityOfLevel[levelOfHit[row]!]!, barMs));
    }
  } else {
    const likelihoods = logLikelihoods(model, onsets, ppq);
    for (let row = 0; row < count; row++) score += likelihoods[row]!;
  }
  score -= 0.5 * Math.log(count + 1) * levels.slotsOfLevel.length + familyPrice(grid, levels.isEven);
  if (grid.swingPercent !== undefined) score -= costOfSwing(count);
  score -= priceOfHabit(meanDriftMs, lateMs);
  score -= priceOfSpread(spreadMs, known);
  // A voice that never plays on the beat is off it, not late by half a step.
  const goesAcross = grid.family === "dotted" && !levels.isEven;
  const farthestMs = grid.family === "dotted" ? FARTHEST_HABIT_DOTTED_MS : FARTHEST_HABIT_MS;
  if (Math.abs(meanDriftMs - lateMs) > farthestMs) score = Number.NEGATIVE_INFINITY;
  if (goesAcross && !hasPlaces(FEWEST_ACROSS, onsets, driftsMs, finder.stepTicks)) score = Number.NEGATIVE_INFINITY;
  if (levels.slotsOfLevel.length > 2) {
    const finest = hitsOfLevel.at(-1)! / count;
    // Where hardly any hit needs the finest slots, they are likelier to be a stretch of their own, unless other voices play them.
    if (finest < RARE_FINEST_SHARE && !isPlayed) score -= RARE_PRICE;
    // A union of two plainer grids fits a part that mixes them, but nobody plays its finest slots: sixteenth triplets hold eighths and
    // eighth triplets, of which a fill over several drums may leave one no others.
    const isShared = isPlayed && grid.family === "triplet" && grid.denominator > 8;
    if (finest < SMALLEST_FINEST_SHARE && !isShared) score = Number.NEGATIVE_INFINITY;
  }
  return { ...model, score };
}

/** Steps that go across the bar are told by so many places in it: fewer are on plainer steps as well. */
const FEWEST_ACROSS = 3;

/** Whether hits are on so many places of their bars. */
function hasPlaces(fewest: number, onsets: Onsets, driftsMs: Float64Array, stepTicks: number): boolean {
  const places = new Set<number>();
  for (let row = 0; row < driftsMs.length && places.size < fewest; row++)
    places.add(Math.round((onsets.inBarTicks[row]! - driftsMs[row]! / onsets.msPerTick[row]!) / stepTicks));
  return places.size >= fewest;
}

/**
 * What it costs that a voice is looser than the hands of its take, or steadier.
 * @source the scaled inverse chi-squared distribution of a variance
 */
function priceOfSpread(spreadMs: number, known: KnownOfTake): number {
  if (!known.isSeen) return 0;
  const ratio = spreadMs / known.spreadMs;
  return known.worthHits * (Math.log(ratio) + (ratio ** -2 - 1) / 2);
}

/**
 * What it costs that nearly all hits are beside the plainer slots: as if they were expected on those as well.
 * @param longestStep on which hits that are beside all longer ones are a wonder, in ticks
 */
function priceOfBeside(
  hitsOfLevel: Float64Array,
  { slotsOfLevel, stepOfLevel }: Levels,
  longestStep: number,
  ppq: number,
): number {
  const count = hitsOfLevel.reduce((sum, hits) => sum + hits, 0);
  let [hitsDown, slotsDown] = [0, 0];
  let price = 0;
  let ofLevels = 0;
  for (let level = 0; level < hitsOfLevel.length; level++) {
    const [hits, slots] = [hitsOfLevel[level]!, slotsOfLevel[level]!];
    const isBeside = stepOfLevel[level]! <= longestStep && hitsDown < (1 - MOST_BESIDE_SHARE) * count;
    hitsDown += hits;
    slotsDown += slots;
    if (hits === 0) continue;
    ofLevels += hits * Math.log(hits / Math.max(1, slots));
    if (!isBeside) continue;
    // What is only ever beside the beat is no likelier on triplets since there are fewer of them.
    const expectedOn = Math.max(2, slotsDown, stepOfLevel[0]! / (ppq / 4));
    const ofFewer = ofLevels - hitsDown * Math.log(hitsDown / (expectedOn / 2));
    price = Math.max(0, ofFewer) + Math.min(BESIDE_PRICE, hitsDown * Math.LN2);
  }
  return price;
}

/**
 * The same grid a step earlier or later, if that fits better: a voice that is a little early on every slot is also nearly a step
 * late on every slot before. Which of the two is told by where in the bar its slots are, and by how late the take came in.
 */
export function onRightSide(model: GridModel, onsets: Onsets, ppq: number, known: KnownOfTake): GridModel {
  const stepMs = gridStepTicks(model.grid, ppq) * (onsets.msPerTick[0] ?? 1);
  const others = [-stepMs, stepMs]
    .map((distanceMs) => model.meanDriftMs + distanceMs)
    .filter((startMs) => Math.abs(startMs - known.lateMs) < FARTHEST_HABIT_MS)
    .map((startMs) => fitGrid(model.grid, onsets, ppq, known, startMs));
  return [model, ...others].reduce((best, one) => (one.score > best.score ? one : best));
}

/** What it costs that a voice sits off the line otherwise than the take. @source a bell-shaped distribution of habits */
const priceOfHabit = (meanDriftMs: number, lateMs: number): number =>
  0.5 * ((meanDriftMs - lateMs) / USUAL_HABIT_MS) ** 2;

/** How a voice sits off its slots, and how far it scatters there. */
type Hand = Pick<GridModel, "meanDriftMs" | "spreadMs">;

/** A habit that is off by less changes nothing. */
const SAME_HABIT_MS = 2;

/** The hand as the hits show it that are in none of some stretches; as it was where those are few: they are what a grid fits by chance. */
export function handOutside(
  { grid, meanDriftMs, spreadMs }: GridModel,
  stretches: readonly GridStretch[],
  onsets: Onsets,
  ppq: number,
): Hand {
  const { ticks, inBarTicks, barTicks, msPerTick } = onsets;
  const finder = new BarSlots(grid, ppq);
  const driftsMs: number[] = [];
  let at = 0;
  for (let row = 0; row < ticks.length; row++) {
    while (at < stretches.length && stretches[at]!.endTick <= ticks[row]!) at++;
    if (at < stretches.length && ticks[row]! >= stretches[at]!.startTick) continue;
    const centred = inBarTicks[row]! - meanDriftMs / msPerTick[row]!;
    finder.find(centred, barTicks[row]!);
    driftsMs.push((centred - finder.slot) * msPerTick[row]!);
  }
  if (3 * driftsMs.length < ticks.length) return { meanDriftMs, spreadMs };
  const own = summarizeDrifts(driftsMs, stepMsOf(onsets));
  const { worthHits, spreadMs: usualMs } = USUAL_PLAYER;
  const squares = driftsMs.length * own.spreadMs ** 2 + worthHits * usualMs ** 2;
  return {
    meanDriftMs: Math.abs(own.meanMs) < SAME_HABIT_MS ? meanDriftMs : meanDriftMs + own.meanMs,
    spreadMs: Math.sqrt(squares / (driftsMs.length + worthHits)),
  };
}

/** The same model for another hand. */
export function withHand(model: GridModel, hand: Hand, onsets: Onsets, ppq: number): GridModel {
  const other = { ...model, ...hand };
  const [before, after] = [logLikelihoods(model, onsets, ppq), logLikelihoods(other, onsets, ppq)];
  let gained = priceOfHabit(model.meanDriftMs, model.lateMs) - priceOfHabit(other.meanDriftMs, model.lateMs);
  for (let row = 0; row < before.length; row++) gained += after[row]! - before[row]!;
  return { ...other, score: model.score + gained };
}

/** For each onset the logarithm of how likely it is on the grid of a model, in hits a ms. */
export function logLikelihoods(model: Omit<GridModel, "score">, onsets: Onsets, ppq: number): Float64Array {
  const likelihoodOf = likelihoodOn(model, onsets, ppq);
  const likelihoods = new Float64Array(onsets.ticks.length);
  for (let row = 0; row < likelihoods.length; row++) likelihoods[row] = Math.log(likelihoodOf(row));
  return likelihoods;
}

/** The share of hits that are more likely on a slot than anywhere; those in a stretch count as found there. */
export function shareExplained(
  model: GridModel,
  stretches: readonly GridStretch[],
  onsets: Onsets,
  ppq: number,
): number {
  const { ticks, barTicks, msPerTick } = onsets;
  const likelihoodOf = likelihoodOn(model, onsets, ppq);
  let explained = 0;
  let at = 0;
  for (let row = 0; row < ticks.length; row++) {
    while (at < stretches.length && stretches[at]!.endTick <= ticks[row]!) at++;
    const isInStretch = at < stretches.length && ticks[row]! >= stretches[at]!.startTick;
    if (isInStretch || likelihoodOf(row) > 2 * strayLikelihood(barTicks[row]! * msPerTick[row]!)) explained++;
  }
  return explained / ticks.length;
}

/** How likely one onset is on the grid of a model, in hits a ms. */
export function likelihoodOn(
  { grid, meanDriftMs, spreadMs, levels, densityOfLevel }: Omit<GridModel, "score">,
  { inBarTicks, barTicks, msPerTick }: Onsets,
  ppq: number,
): (row: number) => number {
  const finder = new BarSlots(grid, ppq);
  return (row) => {
    const centred = inBarTicks[row]! - meanDriftMs / msPerTick[row]!;
    finder.find(centred, barTicks[row]!);
    const density = densityOfLevel[finder.isBarEnd ? 0 : levels.levelOfSlot[finder.index]!]!;
    const offMs = (centred - finder.slot) * msPerTick[row]!;
    return likelihood(offMs, spreadMs, density, barTicks[row]! * msPerTick[row]!);
  };
}

const ROOT_OF_CIRCLE = Math.sqrt(2 * Math.PI);

/** @param offMs how far a hit is from its slot, the habit taken off; @param density the share of hits on that slot */
export function likelihood(offMs: number, spreadMs: number, density: number, barMs: number): number {
  const deviation = offMs / spreadMs;
  const bell = Math.exp(-0.5 * deviation * deviation) / (spreadMs * ROOT_OF_CIRCLE);
  return (1 - STRAY_SHARE) * density * bell + strayLikelihood(barMs);
}

/** How likely a hit is that belongs to no slot. */
export function strayLikelihood(barMs: number): number {
  return STRAY_SHARE / barMs;
}

/** Quintuplets come in fills; hardly anybody plays them throughout. */
const QUINTUPLET_PRICE = 20;

/** A light swing that is hardly likelier than none is a hand that happens to be late. */
const SWING_PRICE = 2;

/** What it costs a voice of so many hits to say by itself how far it swings. */
export const costOfSwing = (count: number) => 0.5 * Math.log(count + 1) + SWING_PRICE;

/** Steps that hardly anybody plays throughout. */
const FINE_PRICE = 8;

/** Where two families explain a voice equally well, people mean the plainer one; dotted grids are for compound meters. */
function familyPrice(grid: Grid, isEven: boolean): number {
  const isFine = grid.denominator === 64 || (grid.family === "triplet" && grid.denominator === 32);
  if (isFine) return FINE_PRICE;
  if (grid.family === "straight") return 0;
  if (grid.family === "quintuplet") return QUINTUPLET_PRICE;
  return grid.family === "triplet" || isEven ? 1 : 6;
}

/**
 * The mean of the drifts on a circle one step around, so that late and early do not cancel at the half-way point; of all that it may
 * be, a whole number of steps apart, what is nearest to how late the take came in.
 */
function habitAround(lateMs: number, { inBarTicks, msPerTick }: Onsets, stepTicks: number): number {
  let sine = 0;
  let cosine = 0;
  let meanMsPerTick = 0;
  for (let row = 0; row < inBarTicks.length; row++) {
    const angle = (2 * Math.PI * inBarTicks[row]!) / stepTicks;
    sine += Math.sin(angle);
    cosine += Math.cos(angle);
    meanMsPerTick += msPerTick[row]! / inBarTicks.length;
  }
  const stepMs = stepTicks * meanMsPerTick;
  const meanMs = (Math.atan2(sine, cosine) / (2 * Math.PI)) * stepMs;
  return meanMs + Math.round((lateMs - meanMs) / stepMs) * stepMs;
}

/** Hits of a voice are not as independent as their likelihoods say: differences count for less by this. */
export const HEDGE = 4;

/** How sure a reading is that is likelier than another by some logarithm. */
export const sureness = (likelier: number): number => 1 / (1 + Math.exp(-likelier / HEDGE));

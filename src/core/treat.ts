import type { Family } from "./document/index.ts";
import { columnsOf, type Hit, type LaneColumns } from "./document/pattern.ts";
import {
  type NoiseShape,
  type RepairTreatment,
  type TimingTreatment,
  type Treatment,
  takenLatencyMs,
  USUAL_DYNAMICS,
} from "./document/treatment.ts";
import { bordersOf, rolesOf } from "./dynamics/roles.ts";
import { type ShapedVelocities, shapeVelocities } from "./dynamics/shape-lane.ts";
import { layGroove } from "./groove/lay-on.ts";
import { noiseOf, wanderAt } from "./humanize.ts";
import { remembering } from "./remember.ts";
import { type TimeMaps, tickAfterMs, ticksAfterMs } from "./time/index.ts";
import type { CloseReading } from "./timing/close-readings.ts";
import { settingsByRow } from "./timing/exceptions.ts";
import { closeReadingsOf, FLAG, type PlacedHits, quantize } from "./timing/quantize.ts";

/** What a treatment makes of a lane. Row i of every column belongs to hit i. */
export interface CleanedHits {
  /** Whole ticks, 0 to just before the pattern's end. */
  readonly ticks: Float64Array;
  /** 1 to 127. */
  readonly velocities: Uint8Array;
  /** Hits that would have been louder than 127 or softer than 1, and end up alike. */
  readonly clippedCount: number;
  readonly slotTicks: Float64Array;
  /** Drift before treatment, late is positive. */
  readonly driftsMs: Float64Array;
  /** Where the grid alone has put each hit, before the groove and whatever follows; fractional. */
  readonly placedTicks: Float64Array;
  /** Bits of `FLAG`: why a hit is worth a look. */
  readonly flags: Uint8Array;
  /** How far the groove has moved each hit, later is positive; null without one. */
  readonly feelTicks: Float64Array | null;
  /** 1 for hits that the repair step leaves out. */
  readonly isLeftOut: Uint8Array;
}

/**
 * One voice's treatment, in order: the one place to read the chain.
 * Hits keep their order, none leaves the pattern, and pinned hits stay where a hand put them.
 * @param hits of one voice, ascending by base tick
 * @param family of the voice: grooves can say something else to each
 * @param lengthTicks where the pattern ends
 */
export function treat(
  hits: readonly Hit[],
  treatment: Treatment,
  maps: TimeMaps,
  lengthTicks: number,
  family: Family = "percussion",
): CleanedHits {
  const settled = settle(hits, treatment, maps);
  return giveFeel(settled, treatment, maps, lengthTicks, family, { firstRow: 0, endRow: hits.length, firstBar: 0 });
}

/** A voice after the steps that look at all of it: what is left out, where its hits belong and are pulled to, and how loud. */
export interface SettledVoice {
  readonly hits: readonly Hit[];
  readonly lane: LaneColumns;
  readonly isLeftOut: Uint8Array;
  readonly placed: PlacedHits;
  /** Places in `ROLES`: told when they are asked for, which takes longer than most steps. */
  roles(): Uint8Array;
  readonly shaped: ShapedVelocities;
}

/** The first half of the chain: repair, latency, quantize, and the dynamics, which build on none of the feel. */
export function settle(hits: readonly Hit[], treatment: Treatment, maps: TimeMaps): SettledVoice {
  const lane = columnsOf(hits);
  const { timing, dynamics = USUAL_DYNAMICS } = treatment;
  const borders = bordersIfAsked(lane, treatment, maps);
  const roles = () => rolesOf(lane, maps.meterMap, treatment.roles);
  const isLeftOut = repair(hits, treatment.repair);
  const onTime = takeLatency(lane, timing, maps);
  const placed = quantize(onTime, timing, maps, borders);
  const shaped = shapeVelocities(
    hits,
    lane,
    dynamics.isOn ? roles() : NO_ROLES,
    placed.slotTicks,
    dynamics,
    maps.meterMap,
  );
  return { hits, lane, isLeftOut, placed, roles, shaped };
}

const NO_ROLES = new Uint8Array(0);

/** Some of the rows of a voice, one after another, as they are in one pattern of a song. */
export interface RowSpan {
  readonly firstRow: number;
  /** Not included. */
  readonly endRow: number;
  /** The bar that a groove of several bars is counted from. */
  readonly firstBar: number;
}

/** The second half, for all of a voice or some of it: the groove, push and humanize, and the order kept. */
export function giveFeel(
  settled: SettledVoice,
  treatment: Treatment,
  maps: TimeMaps,
  lengthTicks: number,
  family: Family,
  span: RowSpan,
): CleanedHits {
  const { firstRow, endRow } = span;
  const { ticks, isPinned, isVelocityPinned } = settled.lane;
  const lane = {
    ticks: ticks.subarray(firstRow, endRow),
    isPinned: isPinned.subarray(firstRow, endRow),
    isVelocityPinned: isVelocityPinned.subarray(firstRow, endRow),
  };
  const placed = rowsOfPlaced(settled.placed, firstRow, endRow);
  const felt = feel(placed, lane, treatment, family, maps, span.firstBar);
  const moved = pushAndHumanize(felt.ticks, placed, settled, treatment.timing, maps, span);
  const own = offsetByHand(moved, settled.lane, maps, lengthTicks, span);
  const velocities = rowsOf(settled.shaped.velocities, firstRow, endRow);
  return {
    ticks: keepOrder(lane, own, lengthTicks),
    clippedCount: settled.shaped.clippedCount,
    velocities: accented(velocities, felt.accents, treatment, lane),
    feelTicks: felt.feelTicks,
    placedTicks: placed.ticks,
    slotTicks: placed.slotTicks,
    driftsMs: placed.driftsMs,
    flags: withOrderFlags(placed.flags, lane, placed.ticks),
    isLeftOut: rowsOf(settled.isLeftOut, firstRow, endRow),
  };
}

/** Some rows of a column; all of them are the column itself, so that it is still known to be the same. */
function rowsOf(column: Uint8Array, firstRow: number, endRow: number): Uint8Array {
  return firstRow === 0 && endRow === column.length ? column : column.subarray(firstRow, endRow);
}

/** Where the hits of a settled voice are without any feel: no groove, no push, nothing left to chance. */
export function plainTicks({ lane, placed }: SettledVoice, maps: TimeMaps, lengthTicks: number): Float64Array {
  const all = { firstRow: 0, endRow: placed.ticks.length, firstBar: 0 };
  return keepOrder(lane, offsetByHand(placed.ticks, lane, maps, lengthTicks, all), lengthTicks);
}

/** What the second half needs of a lane. */
type LaneRows = Pick<LaneColumns, "ticks" | "isPinned" | "isVelocityPinned">;

function rowsOfPlaced(placed: PlacedHits, firstRow: number, endRow: number): PlacedHits {
  if (firstRow === 0 && endRow === placed.ticks.length) return placed;
  const { ticks, slotTicks, driftsMs, flags, mainRows, leaders } = placed;
  return {
    ticks: ticks.subarray(firstRow, endRow),
    slotTicks: slotTicks.subarray(firstRow, endRow),
    driftsMs: driftsMs.subarray(firstRow, endRow),
    flags: flags.subarray(firstRow, endRow),
    mainRows: mainRows.subarray(firstRow, endRow),
    leaders: leaders.subarray(firstRow, endRow),
  };
}

/** Leaves out what nobody played. */
function repair(hits: readonly Hit[], step: RepairTreatment | undefined): Uint8Array {
  const ids = step?.leftOut;
  return rememberLeftOut(hits, [ids], () => {
    const leftOut = new Set(ids);
    const isLeftOut = new Uint8Array(hits.length);
    if (leftOut.size > 0)
      for (let row = 0; row < hits.length; row++) if (leftOut.has(hits[row]!.id)) isLeftOut[row] = 1;
    return isLeftOut;
  });
}

/** Another setting that is dragged leaves out the same hits. */
const rememberLeftOut = remembering<readonly Hit[], Uint8Array>();

/** Takes off what came in late as a whole; what a hand has put or played in here is on time. @source t1 = t − latency */
function takeLatency(lane: LaneColumns, timing: TimingTreatment, { tempoMap }: TimeMaps): LaneColumns {
  const latencyMs = takenLatencyMs(timing);
  if (latencyMs === 0) return lane;
  return rememberOnTime(lane, [latencyMs, tempoMap], () => {
    const { ticks, isPinned, isPlayedIn } = lane;
    const early = ticksAfterMs(tempoMap, ticks, -latencyMs);
    for (let row = 0; row < ticks.length; row++)
      if (isPinned[row] === 1 || isPlayedIn?.[row] === 1) early[row] = ticks[row]!;
    return { ...lane, ticks: early };
  });
}

/** While another setting is dragged the latency stays: the lane without it is the same, and so are its slots. */
const rememberOnTime = remembering<LaneColumns, LaneColumns>();

/** Lays a groove on: each hit goes on from where it was pulled, by how far the groove is off its slot. */
function feel(
  { ticks, slotTicks }: PlacedHits,
  { isPinned }: LaneRows,
  { feel: step, timing }: Treatment,
  family: Family,
  { meterMap }: TimeMaps,
  firstBar: number,
): { readonly ticks: Float64Array; readonly feelTicks: Float64Array | null; readonly accents: Float64Array | null } {
  if (!step?.isOn) return { ticks, feelTicks: null, accents: null };
  const { shiftTicks, accents } = layGroove(step.groove, family, slotTicks, timing, meterMap, firstBar);
  const timingShare = step.timingPercent / 100;
  const felt = ticks.slice();
  const feelTicks = new Float64Array(ticks.length);
  for (let row = 0; row < felt.length; row++) {
    if (isPinned[row] === 1) continue;
    const shift = timingShare * shiftTicks[row]!;
    feelTicks[row] = shift;
    felt[row]! += shift;
  }
  return { ticks: felt, feelTicks, accents };
}

/** The accents of a groove, on what the dynamics made of the loudness. What a hand has made as loud stays so. */
function accented(
  velocities: Uint8Array,
  accents: Float64Array | null,
  { feel: step }: Treatment,
  { isVelocityPinned }: LaneRows,
): Uint8Array {
  if (!accents || !step) return velocities;
  const share = step.accentPercent / 100;
  const louder = velocities.slice();
  for (let row = 0; row < louder.length; row++) {
    if (isVelocityPinned[row] === 1) continue;
    const velocity = Math.round(velocities[row]! * (1 + share * (accents[row]! - 1)));
    louder[row] = Math.max(1, Math.min(127, velocity));
  }
  return louder;
}

/**
 * Moves hits after they are quantized: ahead of the beat or behind it, all or every nth, and by a little chance, which is
 * the same for the same seed. Milliseconds of both are added up, so that each hit is moved once. Grace notes go with their main
 * hit, so that no flam is disturbed.
 */
function pushAndHumanize(
  ticks: Float64Array,
  { slotTicks, mainRows }: PlacedHits,
  { hits, lane, roles }: SettledVoice,
  timing: TimingTreatment,
  { tempoMap }: TimeMaps,
  { firstRow }: RowSpan,
): Float64Array {
  const { isOn, pushTicks = 0, pushEvery, pushFrom, exceptions = [] } = timing;
  const all = [timing, ...exceptions];
  const isMoved = all.some(({ pushMs, humanizeMs }) => Boolean(pushMs || humanizeMs)) || pushTicks !== 0;
  if (!isOn || !isMoved) return ticks;
  const settingsAt = settingsByRow(timing, slotTicks);
  const chances = all.some(({ humanizeMs }) => humanizeMs)
    ? chancesOf(hits, roles, lane, timing, slotTicks, firstRow, tempoMap.ppq)
    : null;
  const moved = ticks.slice();
  for (let row = 0; row < moved.length; row++) {
    const laneRow = firstRow + row;
    if (lane.isPinned[laneRow] === 1) continue;
    const main = mainRows[row]!;
    const leader = main === -1 ? laneRow : main;
    const { pushMs, humanizeMs } = settingsAt(row);
    const isPushed = pushEvery === 1 || (leader - (pushFrom - 1)) % pushEvery === 0;
    const chanceMs = chances ? humanizeMs * (chances[main === -1 ? row : main - firstRow] ?? 0) : 0;
    const fromTick = moved[row]! + (isPushed ? pushTicks : 0);
    const ms = (isPushed ? pushMs : 0) + chanceMs;
    moved[row] = tickAfterMs(tempoMap, fromTick, ms);
  }
  return moved;
}

/**
 * The chance of each hit, in units of its spread: dice for each, a slow wander that hits near one another share, or some of both,
 * spread as wide; and as much of it as its role and the hit itself take.
 */
function chancesOf(
  hits: readonly Hit[],
  rolesOfHits: () => Uint8Array,
  { deviationShares }: LaneColumns,
  { humanizeSeed: seed, humanizeShape: shape, humanizeWanderPercent = 0, byRole }: TimingTreatment,
  slotTicks: Float64Array,
  firstRow: number,
  ppq: number,
): Float64Array {
  const dice = noiseOfHits(hits, seed, shape).subarray(firstRow, firstRow + slotTicks.length);
  const isSame = byRole?.ghost?.humanizePercent === undefined && byRole?.accent?.humanizePercent === undefined;
  if (humanizeWanderPercent === 0 && isSame && !deviationShares) return dice;
  const roles = isSame ? null : rolesOfHits();
  // By their places in `ROLES`: ghost, stroke, accent.
  const shares = [byRole?.ghost, undefined, byRole?.accent].map((role) => (role?.humanizePercent ?? 100) / 100);
  const wandering = humanizeWanderPercent / 100;
  const [ofDice, ofWander] = [Math.sqrt(1 - wandering), Math.sqrt(wandering)];
  return dice.map((own, row) => {
    const wander = ofWander === 0 ? 0 : ofWander * wanderAt(slotTicks[row]! / ppq, seed, shape);
    const share = (roles ? shares[roles[firstRow + row]!]! : 1) * (deviationShares?.[firstRow + row] ?? 1);
    return share * (ofDice * own + wander);
  });
}

/** Moves hits that a hand has given an offset by as many ms, wherever they are: those that are pinned as well. */
function offsetByHand(
  ticks: Float64Array,
  { offsetsMs, isPinned }: LaneColumns,
  { tempoMap }: TimeMaps,
  lengthTicks: number,
  { firstRow }: RowSpan,
): Float64Array {
  if (!offsetsMs) return ticks;
  return ticks.map((tick, row) => {
    const ms = offsetsMs[firstRow + row]!;
    if (ms === 0) return tick;
    const moved = tickAfterMs(tempoMap, tick, ms);
    // What is pinned is rounded by nobody else.
    return isPinned[firstRow + row] === 1 ? Math.max(0, Math.min(lengthTicks - 1, Math.round(moved))) : moved;
  });
}

/** The noise of a lane is asked for on every frame of a drag, for the same hits and mostly the same seed. */
const rememberNoise = remembering<readonly Hit[], Float64Array>();

function noiseOfHits(hits: readonly Hit[], seed: number, shape: NoiseShape): Float64Array {
  return rememberNoise(hits, [seed, shape], () => Float64Array.from(hits, ({ id }) => noiseOf(id, seed, shape)));
}

/** Marks hits that quantizing would have put before the one they follow. By a few ticks nobody hears it. */
function withOrderFlags(flags: Uint8Array, { isPinned }: LaneRows, wanted: Float64Array): Uint8Array {
  const marked = flags.slice();
  for (let row = 1; row < wanted.length; row++) {
    if (wanted[row]! >= wanted[row - 1]! - UNHEARD_TICKS) continue;
    // What a hand has put there is meant so; its neighbour is the one that gave way.
    const held = isPinned[row] === 1 ? row - 1 : row;
    if (isPinned[held] === 0) marked[held]! |= FLAG.order;
  }
  return marked;
}

const UNHEARD_TICKS = 4;

/**
 * Rounds to whole ticks and keeps the order in which the hits were played: no hit passes its neighbour or a pinned hit,
 * and hits that were apart stay at least one tick apart where there is room.
 */
function keepOrder(lane: LaneRows, ticks: Float64Array, lengthTicks: number): Float64Array {
  const { ticks: baseTicks, isPinned } = lane;
  const ordered = new Float64Array(ticks.length);
  const last = ticks.length - 1;
  // Comparisons, and each value read once: this and the way back run for every hit of a lane on every frame of a drag.
  let earliest = 0;
  for (let row = 0; row <= last; row++) {
    let tick = ticks[row]!;
    if (isPinned[row] === 0) {
      tick = Math.round(tick);
      if (tick < earliest) tick = earliest;
    }
    ordered[row] = tick;
    earliest = row < last && baseTicks[row + 1]! > baseTicks[row]! ? tick + 1 : tick;
  }
  let latest = lengthTicks - 1;
  for (let row = last; row >= 0; row--) {
    let tick = ordered[row]!;
    if (isPinned[row] === 0) {
      if (tick > latest) tick = latest;
      if (tick < 0) tick = 0;
      ordered[row] = tick;
    }
    const before = row > 0 && baseTicks[row - 1]! < baseTicks[row]! ? tick - 1 : tick;
    if (before < latest) latest = before;
  }
  return ordered;
}

/** The borders of the roles, if a step asks for them: nobody waits for what no step needs. */
function bordersIfAsked(lane: LaneColumns, { timing, dynamics, roles }: Treatment, { meterMap }: TimeMaps) {
  const asks = dynamics?.isOn || timing.ghostGrid || timing.byRole || lane.swingShares;
  return asks ? bordersOf(lane, meterMap, roles) : undefined;
}

/**
 * What the beat of a hit may be meant as instead.
 * @returns the likeliest reading in which the hit would be elsewhere; null if none is close
 */
export function otherReadingOf(
  hits: readonly Hit[],
  treatment: Treatment,
  maps: TimeMaps,
  row: number,
): CloseReading | null {
  const lane = columnsOf(hits);
  const { timing } = treatment;
  const onTime = takeLatency(lane, timing, maps);
  const readings = closeReadingsOf(onTime, timing, maps, bordersIfAsked(lane, treatment, maps));
  return readings.find(({ rows }) => rows.includes(row)) ?? null;
}

import type { LaneColumns } from "../document/pattern.ts";
import type { RoleBorders } from "../document/role.ts";
import type { TimingTreatment } from "../document/treatment.ts";
import { rolesOf } from "../dynamics/roles.ts";
import { remembering } from "../remember.ts";
import {
  gridStepTicks,
  type MeterMap,
  msToTick,
  type TempoMap,
  type TimeMaps,
  ticksAfterMs,
  ticksToMs,
  tickToMs,
} from "../time/index.ts";
import { type CloseReading, closeReadings } from "./close-readings.ts";
import { settingsByRow } from "./exceptions.ts";
import { findGraceNotes } from "./grace-notes.ts";
import { hitFinders, type SlotPlan } from "./hit-slots.ts";
import { findRolls } from "./rolls.ts";
import { fitPoorly, rowsOfUnevenRolls, rowsOnRareSteps } from "./unsure-readings.ts";

/** Why a hit is worth a look. A hit can have several of these. */
export const FLAG = {
  /** Its two nearest slots are almost equally far. */
  fence: 1,
  /** It moves over a large share of a step. */
  jump: 2,
  /** Another hit of the voice wants the same slot; this one keeps its distance to that one. */
  collision: 4,
  /** It would have passed its neighbour, and was kept behind it. */
  order: 8,
  /** It is on steps that its voice has in a beat or two, and nowhere else. */
  rareStep: 16,
  /** Its voice has few hits, and they lie badly on the grid. */
  poorFit: 32,
  /** On another grid its beat would be nearly as likely. */
  closeReading: 64,
  /** It moves along with its roll or its main hit, and may have a slot of its own. */
  along: 128,
} as const;

const FENCE_RATIO = 0.8;
const JUMP_SHARE = 0.3;

/** Row i of every column belongs to hit i of the lane. */
export interface PlacedHits {
  /** Fractional: later steps of the treatment add to it, and `treat` rounds once, at the end. */
  readonly ticks: Float64Array;
  /** The slot each hit belongs to. */
  readonly slotTicks: Float64Array;
  /** Signed distance of each hit from its slot before treatment; late is positive. */
  readonly driftsMs: Float64Array;
  /** Bits of `FLAG`. */
  readonly flags: Uint8Array;
  /** The row of the main hit of a grace note, or -1. */
  readonly mainRows: Int32Array;
  /** The row of the hit that a hit keeps its distance to: itself if it takes its slot. */
  readonly leaders: Int32Array;
}

/**
 * Pulls the hits of one voice to their slots.
 * A hit's slot is the nearest after the voice's pocket is taken off, so that a voice that sits late by habit is not
 * pushed to the next slot. Hits that are pinned, within `leaveWithinMs`, or farther than the reach stay. Of several hits
 * that want one slot and are about as near to it the loudest takes it, otherwise the nearest; the others keep their distance in ms, and
 * so do grace notes to their main hit.
 * @param lane the hits of one voice
 * @param borders of the roles, where a hand has moved them
 * @returns the places, with slots and drifts also for hits that stay
 * @source t2 = t1 + strength · (slot − t1)
 */
export function quantize(
  lane: LaneColumns,
  timing: TimingTreatment,
  maps: TimeMaps,
  borders?: RoleBorders,
): PlacedHits {
  const { tempoMap } = maps;
  const { ticks, isPinned } = lane;
  const count = ticks.length;
  const { timesMs, pocketTicks, slotTicks, stepTicks, driftsMs, mainRows, rollRows, leaders, unsure } = slotsOf(
    lane,
    timing,
    maps,
    borders,
  );
  const strengthOf = strengthByRole(lane, timing, maps.meterMap, borders);
  const settingsAt = settingsByRow(timing, slotTicks);
  const flags = unsure.slice();
  const placed = ticks.slice();
  for (let row = 0; row < count; row++) {
    if (leaders[row] !== row || isPinned[row] === 1) continue;
    const settings = settingsAt(row);
    const strength = settings.isOn ? strengthOf(row, settings) / 100 : 0;
    const driftMs = Math.abs(driftsMs[row]!);
    if (driftMs <= settings.leaveWithinMs) continue;
    const distance = slotTicks[row]! - ticks[row]!;
    const pocketDistance = Math.abs(pocketTicks[row]! - slotTicks[row]!);
    if (pocketDistance > (settings.reachPercent / 100) * stepTicks[row]! + 1e-6) continue;
    placed[row] = ticks[row]! + strength * distance;
    // What the whole voice is off by is no reason to doubt one hit.
    if (strength * pocketDistance > JUMP_SHARE * stepTicks[row]!) flags[row]! |= FLAG.jump;
  }
  for (let row = 0; row < count; row++) {
    const leader = leaders[row]!;
    if (leader === row) continue;
    if (isPinned[row] === 1) continue;
    if (mainRows[row] === -1 && rollRows[row] === -1) flags[row]! |= FLAG.collision;
    const movedMs = tickToMs(tempoMap, placed[leader]!) - timesMs[leader]!;
    placed[row] = msToTick(tempoMap, timesMs[row]! + movedMs);
  }
  // Of what is left as it was played there is nothing to doubt.
  for (let row = 0; row < count; row++) {
    if (flags[row] === 0) continue;
    const settings = settingsAt(row);
    if (settings.isOn && strengthOf(row, settings) === 0) flags[row] = 0;
  }
  return { ticks: placed, slotTicks, driftsMs, flags, mainRows, leaders };
}

/**
 * What beats of a voice may be meant as instead, as `FLAG.closeReading` says of their hits.
 * @returns in order of time, of one beat the likeliest first
 */
export function closeReadingsOf(
  lane: LaneColumns,
  timing: TimingTreatment,
  maps: TimeMaps,
  borders?: RoleBorders,
): readonly CloseReading[] {
  return slotsOf(lane, timing, maps, borders).readings;
}

/** How far each hit is pulled: ghosts or accents may be pulled less, or more, than strokes. */
function strengthByRole(
  lane: LaneColumns,
  { byRole }: TimingTreatment,
  meterMap: MeterMap,
  borders?: RoleBorders,
): (row: number, settings: TimingTreatment) => number {
  if (!byRole) return (_row, settings) => settings.strengthPercent;
  const roles = rolesOf(lane, meterMap, borders);
  return (row, { byRole: here, strengthPercent }) => {
    const role = roles[row]!;
    const own = role === 0 ? here?.ghost : role === 2 ? here?.accent : undefined;
    return own?.strengthPercent ?? strengthPercent;
  };
}

/** Where the hits of a voice belong, whatever the strength. Row i of every column belongs to hit i. */
interface Slots {
  readonly timesMs: Float64Array;
  /** The hits without the voice's pocket. */
  readonly pocketTicks: Float64Array;
  /** That of its main hit for a grace note. */
  readonly slotTicks: Float64Array;
  readonly stepTicks: Float64Array;
  readonly driftsMs: Float64Array;
  /** The row of the main hit of a grace note, or -1. */
  readonly mainRows: Int32Array;
  /** The row of the hit that a hit keeps its distance to: itself if it takes its slot. */
  readonly leaders: Int32Array;
  /** The row of the first stroke of the roll that a hit is of, or -1. */
  readonly rollRows: Int32Array;
  /** Bits of `FLAG` for what is doubtful whatever the strength. */
  readonly unsure: Uint8Array;
  readonly readings: readonly CloseReading[];
}

type SlotSettings = SlotPlan & Pick<TimingTreatment, "pocketMs" | "keepsGraceNotes">;

/** A drag of the strength asks for the same slots on every frame; those found last for a lane are kept with it. */
const rememberSlots = remembering<LaneColumns, Slots>();

function slotsOf(lane: LaneColumns, settings: SlotSettings, maps: TimeMaps, borders?: RoleBorders): Slots {
  const { byRole, grid, stretches, ghostGrid, pocketMs, keepsGraceNotes } = settings;
  const deps = [maps, borders, byRole, grid, stretches, ghostGrid, pocketMs, keepsGraceNotes];
  return rememberSlots(lane, deps, () => findSlots(lane, settings, maps, borders));
}

function findSlots(
  lane: LaneColumns,
  settings: SlotSettings,
  { meterMap, tempoMap }: TimeMaps,
  borders?: RoleBorders,
): Slots {
  const { ticks, velocities, isPinned } = lane;
  const count = ticks.length;
  const timesMs = ticksToMs(tempoMap, ticks);
  const pocketTicks = ticksAfterMs(tempoMap, ticks, -settings.pocketMs);
  const slotTicks = new Float64Array(count);
  const stepTicks = new Float64Array(count);
  const unsure = new Uint8Array(count);
  const finderOf = hitFinders(lane, settings, meterMap, borders);
  for (let row = 0; row < count; row++) {
    const slots = finderOf(row);
    const pocketTick = pocketTicks[row]!;
    slots.find(pocketTick);
    const { slotTick, secondSlotTick } = slots;
    slotTicks[row] = slotTick;
    stepTicks[row] = slots.stepTicks;
    if (Math.abs(pocketTick - slotTick) > FENCE_RATIO * Math.abs(pocketTick - secondSlotTick)) unsure[row] = FLAG.fence;
  }
  for (const row of rowsOnRareSteps(settings, pocketTicks, slotTicks, meterMap.ppq)) unsure[row]! |= FLAG.rareStep;
  // Among ghosts on finer steps a weak hit just before a stroke is one of those, and no flam.
  const ghostStep = settings.ghostGrid ? gridStepTicks(settings.ghostGrid, meterMap.ppq) : Number.POSITIVE_INFINITY;
  const finestSteps =
    ghostStep < Number.POSITIVE_INFINITY ? stepTicks.map((step) => Math.min(step, ghostStep)) : stepTicks;
  const stepLengthsMs = stepsMs(ticks, finestSteps, tempoMap);
  const mainRows = settings.keepsGraceNotes
    ? findGraceNotes({ timesMs, velocities }, stepLengthsMs)
    : new Int32Array(count).fill(-1);
  const rollRows = findRolls(timesMs, stepLengthsMs, mainRows);
  const driftsMs = ticksToMs(tempoMap, slotTicks);
  const looseRows: number[] = [];
  for (let row = 0; row < count; row++) {
    driftsMs[row] = timesMs[row]! - driftsMs[row]!;
    const main = mainRows[row]!;
    // What a hand has put somewhere needs no second look.
    const isLoose = main === -1 && isPinned[row] === 0 && (rollRows[row] === -1 || rollRows[row] === row);
    if (isLoose) looseRows.push(row);
    else unsure[row] = 0;
    if (isPinned[row] === 0 && main !== -1 && slotTicks[row] !== slotTicks[main]) unsure[row]! |= FLAG.along;
    // A grace note belongs where its main hit belongs. Quantized alone, both would land on one slot and the flam be lost.
    if (main >= 0) slotTicks[row] = slotTicks[main]!;
  }
  for (const row of rowsOfUnevenRolls(rollRows, pocketTicks, slotTicks, meterMap.ppq)) {
    if (isPinned[row] === 0) unsure[row]! |= FLAG.along;
  }
  const readings = closeReadings(settings, looseRows, pocketTicks, slotTicks, stepTicks, meterMap);
  for (const row of readings.flatMap(({ rows }) => rows)) {
    // Of what lies half-way between two slots that is said already.
    if ((unsure[row]! & FLAG.fence) === 0) unsure[row]! |= FLAG.closeReading;
  }
  if (fitPoorly(looseRows, pocketTicks, slotTicks, stepTicks))
    for (const row of looseRows) unsure[row]! |= FLAG.poorFit;
  const leaders = findSlotLeaders(slotTicks, driftsMs, velocities, mainRows, settings.pocketMs);
  // A roll goes where its first stroke goes, and stays as even inside as it was played.
  for (let row = 0; row < count; row++) {
    const first = rollRows[row]!;
    if (first >= 0) leaders[row] = first === row && rollRows[leaders[row]!] !== row ? leaders[row]! : first;
  }
  for (let row = 0; row < count; row++) {
    let leader = leaders[row]!;
    while (leaders[leader] !== leader) leader = leaders[leader]!;
    leaders[row] = leader;
  }
  return { rollRows, timesMs, pocketTicks, slotTicks, stepTicks, driftsMs, mainRows, leaders, unsure, readings };
}

/** What a step of the grid lasts at each hit. */
function stepsMs(ticks: Float64Array, stepTicks: Float64Array, tempoMap: TempoMap): Float64Array {
  const lengthsMs = new Float64Array(ticks.length);
  if (tempoMap.startTicks.length === 1) {
    const msPerTick = tempoMap.msPerTick[0]!;
    for (let row = 0; row < ticks.length; row++) lengthsMs[row] = stepTicks[row]! * msPerTick;
    return lengthsMs;
  }
  const ends = new Float64Array(ticks.length);
  for (let row = 0; row < ticks.length; row++) ends[row] = ticks[row]! + stepTicks[row]!;
  const endsMs = ticksToMs(tempoMap, ends);
  const startsMs = ticksToMs(tempoMap, ticks);
  for (let row = 0; row < ticks.length; row++) lengthsMs[row] = endsMs[row]! - startsMs[row]!;
  return lengthsMs;
}

/** Strokes farther apart than a flam do not belong together: the nearer one has the slot, however loud the other is. */
const AS_NEAR_MS = 60;

/** For each hit the row of the hit it keeps its distance to: itself if it takes its slot. */
function findSlotLeaders(
  slotTicks: Float64Array,
  driftsMs: Float64Array,
  velocities: Float64Array,
  mainRows: Int32Array,
  pocketMs: number,
): Int32Array {
  const leaders = new Int32Array(slotTicks.length);
  const offMs = (row: number) => Math.abs(driftsMs[row]! - pocketMs);
  const isBetter = (row: number, than: number) =>
    velocities[row]! !== velocities[than]! && Math.abs(offMs(row) - offMs(than)) < AS_NEAR_MS
      ? velocities[row]! > velocities[than]!
      : offMs(row) < offMs(than);
  // Hits are sorted in time, so those of one slot are neighbours.
  for (let start = 0, end = 0; start < slotTicks.length; start = end) {
    end = start + 1;
    if (slotTicks[end] !== slotTicks[start]) {
      leaders[start] = mainRows[start] === -1 ? start : mainRows[start]!;
      continue;
    }
    let leader = -1;
    for (end = start; end < slotTicks.length && slotTicks[end] === slotTicks[start]; end++) {
      if (mainRows[end] === -1 && (leader === -1 || isBetter(end, leader))) leader = end;
    }
    for (let row = start; row < end; row++) leaders[row] = mainRows[row] === -1 ? leader : mainRows[row]!;
  }
  // A grace note's main hit may itself keep its distance to another.
  for (let row = slotTicks.length - 1; row >= 0; row--) {
    if (mainRows[row] !== -1) leaders[row] = leaders[leaders[row]!]!;
  }
  return leaders;
}

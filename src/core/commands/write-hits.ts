import type { Edit } from "../document/index.ts";
import { type CopiedMarks, copiedMarksOf, LONGEST_TAKE_TICKS, meaningWithoutName, pinsIn } from "../document/index.ts";
import { baseVelocity, compareHits, type Hit, type Pattern } from "../document/pattern.ts";
import { extentOf } from "../extent.ts";
import { outgoingStroke } from "../notemap/index.ts";
import { buildMeterMap, type Grid, gridStepTicks, type MeterMap, nextBarLine, slotsBetween } from "../time/index.ts";
import type { PlacedHit } from "./commands.ts";
import { addLane } from "./reassign.ts";

// Commands that write hits. Like all commands they return the edit and change nothing. Hits that are written are pinned
// where they are put, and never take the place of others.

/** A hit that is wanted. */
export interface Stroke {
  readonly voiceId: string;
  readonly articulationId: string;
  readonly tick: number;
  /** 1 to 127. */
  readonly velocity: number;
  /** What it has of its own, as the hit that it is a copy of. Left out, nothing. */
  readonly marks?: CopiedMarks;
}

export type NewId = () => string;

/** Whether hits can be written at all: without a drum track there is none that they could go out on. */
export function canWrite(pattern: Pattern): boolean {
  return pattern.streams.some(({ isDrums }) => isDrums);
}

/**
 * Writes hits, with a lane for each drum that has none yet, and bars at the end of the take for what lies past it. What lies before its
 * start, or farther than a take can reach, is left out.
 * @param newId makes ids that no other hit has
 */
export function writeStrokes(pattern: Pattern, strokes: readonly Stroke[], newId: NewId): Edit {
  const inside = strokes.filter(({ tick }) => tick >= 0 && tick < LONGEST_TAKE_TICKS);
  const byVoice = new Map<string, readonly Hit[]>();
  const pinOf = pinsIn(pattern);
  for (const { voiceId } of inside) {
    if (!byVoice.has(voiceId))
      byVoice.set(
        voiceId,
        pattern.hits.filter((hit) => hit.voiceId === voiceId),
      );
  }
  const hits = inside
    .map((stroke) => hitOf(pattern, byVoice.get(stroke.voiceId) ?? [], stroke, newId()))
    // An offset of its own comes on top of where a hit is put.
    .map((hit) => ({ ...hit, pinnedTick: pinOf(hit, hit.pinnedTick ?? 0) }))
    .sort(compareHits);
  const missing = [...new Set(inside.map(({ voiceId }) => voiceId))].filter((voiceId) =>
    pattern.lanes.every((lane) => lane.voiceId !== voiceId),
  );
  const add: Edit = { kind: "addHits", hits };
  const [first] = missing;
  const [, last] = extentOf(inside.map(({ tick }) => tick));
  const edits: readonly Edit[] = [
    ...growTo(pattern, last),
    ...(first === undefined ? [] : [addLane(pattern, first, missing.slice(1))]),
    add,
  ];
  return edits.length === 1 ? add : { kind: "together", edits };
}

/**
 * Gives a take the bars that it needs for something at a tick.
 * @returns no edit if it is long enough
 */
export function growTo(pattern: Pattern, tick: number): readonly Edit[] {
  if (!(tick >= pattern.lengthTicks)) return [];
  const to = nextBarLine(buildMeterMap(pattern.ppq, pattern.meters), Math.floor(tick) + 1);
  return [{ kind: "setLength", from: pattern.lengthTicks, to }];
}

/** A hit on the note, track and channel of others of its stroke; of its drum; or of the first drum track. */
function hitOf(pattern: Pattern, ofVoice: readonly Hit[], stroke: Stroke, id: string): Hit {
  const { voiceId, articulationId, tick, velocity, marks } = stroke;
  const like = ofVoice.find((hit) => hit.articulationId === articulationId);
  const out = outgoingStroke(pattern.noteMap, { voiceId, articulationId });
  const isUnnamed = meaningWithoutName(0).articulationId === articulationId;
  const note = like?.note ?? out?.note ?? (isUnnamed ? (ofVoice[0]?.note ?? 0) : 0);
  const firstDrums = pattern.streams.findIndex(({ isDrums }) => isDrums);
  return {
    id,
    streamIndex: (like ?? ofVoice[0])?.streamIndex ?? Math.max(0, firstDrums),
    note,
    voiceId,
    articulationId,
    pedal: null,
    shutTicks: null,
    chokedTicks: null,
    recordedTick: null,
    recordedVelocity: null,
    pinnedTick: Math.round(tick),
    pinnedVelocity: Math.max(1, Math.min(127, Math.round(velocity))),
    ...marks,
  };
}

/** Two hits of one voice nearer than this share of a step want the same slot. */
const SAME_SLOT_SHARE = 0.45;

/** The slots of a stretch that no hit of the voice sits on, every nth of them from an offset on (0 is the first). */
export function emptySlots(
  placed: readonly PlacedHit[],
  meterMap: MeterMap,
  grid: Grid,
  {
    startTick,
    endTick,
    every = 1,
    offset = 0,
  }: { startTick: number; endTick: number; every?: number; offset?: number },
): readonly number[] {
  const near = gridStepTicks(grid, meterMap.ppq) * SAME_SLOT_SHARE;
  const ticks = placed.map(({ tick }) => tick).sort((a, b) => a - b);
  return slotsBetween(grid, meterMap, startTick, endTick).filter((slotTick, index) => {
    if (index < offset || (index - offset) % every !== 0) return false;
    return !ticks.some((tick) => Math.abs(tick - slotTick) < near);
  });
}

export const CURVES = ["even", "slow start", "slow end"] as const;
export type Curve = (typeof CURVES)[number];

/**
 * Values from one to another along a curve.
 * @returns `count` values; one value is the last
 */
export function ramp(count: number, from: number, to: number, curve: Curve): readonly number[] {
  return Array.from({ length: count }, (_, index) => {
    const share = count === 1 ? 1 : index / (count - 1);
    const bent = curve === "slow start" ? share ** 2 : curve === "slow end" ? 1 - (1 - share) ** 2 : share;
    return from + (to - from) * bent;
  });
}

/** Where a burst of hits sounds that leads into a place: even steps that end one step before it. */
export function burstTicks(endTick: number, count: number, stepTicks: number): readonly number[] {
  return Array.from({ length: count }, (_, index) => endTick - (count - index) * stepTicks);
}

/**
 * Where a burst sounds that runs from one place to another, in even steps as near to a wanted one as fit between them.
 * @returns at least the first place; the last is where the next hit would be, and is not among them
 */
export function burstBetween(startTick: number, endTick: number, stepTicks: number): readonly number[] {
  const count = Math.max(1, Math.round((endTick - startTick) / stepTicks));
  return Array.from({ length: count }, (_, index) => startTick + ((endTick - startTick) * index) / count);
}

/** Copies of hits, moved by a distance, each on its own drum. */
export function copiesOf(placed: readonly PlacedHit[], byTicks: number): readonly Stroke[] {
  return placed.map(({ hit, tick }) => ({
    voiceId: hit.voiceId,
    articulationId: hit.articulationId,
    tick: tick + byTicks,
    velocity: baseVelocity(hit),
    marks: copiedMarksOf(hit),
  }));
}

/** The hits that lie between the parts of each hit, when it is split into even parts of a length. */
export function splitStrokes(placed: readonly PlacedHit[], parts: number, lengthTicks: number): readonly Stroke[] {
  return placed.flatMap((one) =>
    Array.from({ length: parts - 1 }, (_, index) => copiesOf([one], ((index + 1) * lengthTicks) / parts)[0]!),
  );
}

/** Makes one hit of the picked hits of each voice: the first stays, as loud as the loudest of them. */
export function glue(placed: readonly PlacedHit[]): Edit {
  const groups = new Map<string, PlacedHit[]>();
  for (const one of placed) groups.set(one.hit.voiceId, [...(groups.get(one.hit.voiceId) ?? []), one]);
  const removed: Hit[] = [];
  const changes: { hitId: string; fromVelocity: number | null; toVelocity: number | null }[] = [];
  for (const group of groups.values()) {
    const [first, ...others] = group.toSorted((a, b) => a.tick - b.tick);
    if (!first || others.length === 0) continue;
    const [, loudest] = extentOf(group.map(({ hit }) => baseVelocity(hit)));
    if (loudest !== baseVelocity(first.hit)) {
      changes.push({ hitId: first.hit.id, fromVelocity: first.hit.pinnedVelocity, toVelocity: loudest });
    }
    for (const { hit } of others) removed.push(hit);
  }
  const removal: Edit = { kind: "removeHits", hits: removed };
  return changes.length === 0 ? removal : { kind: "together", edits: [{ kind: "setVelocity", changes }, removal] };
}

/**
 * Stretches or squeezes the distances of hits from a place, as in half time (2) and double time (1/2). The take gets bars for those
 * that would go past its end.
 * @returns null if a hit would go before its start, or farther than a take can reach
 */
export function stretchHits(
  pattern: Pattern,
  placed: readonly PlacedHit[],
  fromTick: number,
  factor: number,
): Edit | null {
  const pinOf = pinsIn(pattern);
  const moves = placed.map(({ hit, tick }) => ({
    hitId: hit.id,
    fromTick: hit.pinnedTick,
    toTick: pinOf(hit, Math.round(fromTick + (tick - fromTick) * factor)),
  }));
  const isInside = moves.every(({ toTick }) => toTick >= 0 && toTick < LONGEST_TAKE_TICKS);
  if (!isInside) return null;
  const [, last] = extentOf(moves.map(({ toTick }) => toTick));
  const move: Edit = { kind: "moveHits", moves };
  const grown = growTo(pattern, last);
  return grown.length === 0 ? move : { kind: "together", edits: [...grown, move] };
}

import {
  burstBetween,
  burstTicks,
  canWrite,
  copiesOf,
  distanceOfCopies,
  emptySlots,
  glue,
  likeLoudness,
  likePlaces,
  likeStrokes,
  others,
  type PlacedHit,
  pulseAt,
  ramp,
  type Stroke,
  splitStrokes,
  stretchHits,
  writeStrokes,
} from "../../core/commands/index.ts";
import { baseVelocity, type Edit, type Hit } from "../../core/document/index.ts";
import { extentOf } from "../../core/extent.ts";
import {
  barAt,
  type Grid,
  gridName,
  gridStepTicks,
  handGridAt,
  nearestSlots,
  nextBarLine,
} from "../../core/time/index.ts";
import type { Bench } from "../../store/bench-context.ts";
import { pickedHits } from "../../store/bench-selectors.ts";
import type { BenchState } from "../../store/bench-state.ts";
import type { LaneView } from "../../store/lane-view.ts";
import { xToTick } from "../../store/viewport.ts";
import { hitCount, needPicked, showTick, workingLane } from "./actions.ts";

// What writes hits, copies them, and picks others that are like them.

type Said = string | null | void;

const NO_DRUMS = "No track of this take counts as drums, so there is none that a hit could go out on.";

/** All hits with the ticks at which they sound now. */
function allPlaced({ lanes }: BenchState): readonly PlacedHit[] {
  return lanes.flatMap(placedOf);
}

function placedOf(lane: LaneView): readonly PlacedHit[] {
  return lane.hits.map((hit, row) => ({ hit, tick: lane.cleaned.ticks[row]! }));
}

/** Writes hits as one step, in place of others if they are in the way, and picks them. */
export function write({ store }: Bench, verb: string, strokes: readonly Stroke[], replaced: readonly Hit[] = []): Said {
  const { pattern } = store.getState();
  if (!canWrite(pattern)) return NO_DRUMS;
  const before = new Set(pattern.hits.map((hit) => hit.id));
  const written = writeStrokes(pattern, strokes, store.newId);
  store.commit(`${verb} ${hitCount(strokes.length)}`, withRemoved(written, replaced));
  const added = store.getState().pattern.hits.filter((hit) => !before.has(hit.id));
  if (added.length === 0) return "There is no room for it: it would lie past the end of the take.";
  store.pick(new Set(added.map((hit) => hit.id)));
  const missing = strokes.length - added.length;
  return missing > 0 ? `${hitCount(missing)} would lie past the end of the take and were left out.` : null;
}

/** An edit that also takes hits away. */
export function withRemoved(edit: Edit, hits: readonly Hit[]): Edit {
  if (hits.length === 0) return edit;
  const removal: Edit = { kind: "removeHits", hits };
  return { kind: "together", edits: edit.kind === "together" ? [removal, ...edit.edits] : [removal, edit] };
}

/** The stroke that is drawn in a lane: the one of its last picked hit, else the one it plays most. */
export function strokeOfLane(
  lane: LaneView,
  picked: ReadonlySet<string>,
): { articulationId: string; velocity: number } {
  const last = lane.hits.findLast((hit) => picked.has(hit.id));
  if (last) return { articulationId: last.articulationId, velocity: baseVelocity(last) };
  const counts = new Map<string, number>();
  for (const { articulationId } of lane.hits) counts.set(articulationId, (counts.get(articulationId) ?? 0) + 1);
  const [most] = [...counts].sort(([, a], [, b]) => b - a);
  const articulationId = most?.[0] ?? lane.voice.articulations[0]?.id ?? "unnamed";
  return { articulationId, velocity: lane.hits.length > 0 ? baseVelocity(lane.hits.at(-1)!) : USUAL_VELOCITY };
}

const USUAL_VELOCITY = 90;

/** The loop, or the bars in view. */
export function meantStretch({ loop, viewport, maps, pattern }: BenchState): { startTick: number; endTick: number } {
  if (loop) return loop;
  const startTick = barAt(maps.meterMap, Math.max(0, viewport.startTick)).startTick;
  const endTick = nextBarLine(maps.meterMap, xToTick(viewport, viewport.widthPx));
  return { startTick, endTick: Math.min(pattern.lengthTicks, Math.max(endTick, startTick + 1)) };
}

/** Fills every nth empty slot of the open lane, in the loop or in view, or among what is picked. */
export function fill(bench: Bench): Said {
  const state = bench.store.getState();
  const { where, every, from, velocity } = state.fill;
  const lane = workingLane(state);
  if (!lane) return "Open a lane first.";
  const { articulationId } = strokeOfLane(lane, state.picked);
  const { meterMap } = state.maps;
  const span = where === "picked" ? pickedSpan(state) : meantStretch(state);
  if (!span) return PICK_TWO;
  const drawGrid = drawGridOf(state, lane, span.startTick);
  const grid = state.fill.grid ?? (drawGrid === "off" ? handGridAt(lane.treatment.timing, span.startTick) : drawGrid);
  const slotOf = (tick: number) => nearestSlots(grid, meterMap, tick).slotTick;
  // What is picked was played, so its slots are looked for; both are among those that may be filled.
  const { startTick, endTick } =
    where === "picked" ? { startTick: slotOf(span.startTick), endTick: slotOf(span.endTick) + 1 } : span;
  const slots = emptySlots(placedOf(lane), meterMap, grid, { startTick, endTick, every, offset: from - 1 });
  if (slots.length === 0) return "Every slot that was meant has a hit already.";
  const strokes = slots.map((tick) => ({ voiceId: lane.voiceId, articulationId, tick, velocity }));
  return write(bench, `Fill ${lane.voice.name}:`, strokes) ?? `Wrote ${hitCount(slots.length)} on ${gridName(grid)}.`;
}

/**
 * Writes a burst into the bar line that follows the playhead or into the end of the loop, or from one end of the loop, or
 * of what is picked, to the other. Hits that are there already stay, and count as part of it.
 */
export function burst(bench: Bench): Said {
  const state = bench.store.getState();
  const { where, fromVelocity, toVelocity, curve } = state.burst;
  const lane = workingLane(state);
  if (!lane) return "Open a lane first.";
  const ticks = burstPlaces(state);
  if (typeof ticks === "string") return ticks;
  if (ticks[0]! < 0) return "The roll would begin before the take does. Use fewer hits or a finer grid.";
  const velocities = ramp(ticks.length, fromVelocity, toVelocity, curve);
  const { articulationId } = strokeOfLane(lane, state.picked);
  const near = (ticks.length > 1 ? ticks[1]! - ticks[0]! : state.maps.meterMap.ppq) / 3;
  const strokes = ticks.flatMap((tick, index) =>
    where !== "into" && lane.cleaned.ticks.some((taken) => Math.abs(taken - tick) < near)
      ? []
      : [{ voiceId: lane.voiceId, articulationId, tick, velocity: velocities[index]! }],
  );
  if (strokes.length === 0) return "Every place of the roll has a hit already.";
  showTick(bench, ticks[0]!);
  const place =
    where === "into" ? "into the bar line" : where === "loop" ? "through the loop" : "between the selected hits";
  return write(bench, `Roll on ${lane.voice.name}:`, strokes) ?? `Wrote ${hitCount(strokes.length)} ${place}.`;
}

/** Where the hits of the next burst would be, or why there is no such place. */
function burstPlaces(state: BenchState): readonly number[] | string {
  const { meterMap } = state.maps;
  const { where, count, grid } = state.burst;
  const stepTicks = gridStepTicks(grid, meterMap.ppq);
  if (where === "into") {
    return burstTicks(state.loop?.endTick ?? nextBarLine(meterMap, state.playheadTick + 1), count, stepTicks);
  }
  const span = where === "loop" ? state.loop : pickedSpan(state);
  if (!span) return where === "loop" ? "Loop a stretch first." : PICK_TWO;
  return burstBetween(span.startTick, span.endTick, stepTicks);
}

const PICK_TWO = "Select the hits to write between, at least two.";

/** From the first to the last hit that is picked; null if they are not apart. */
function pickedSpan(state: BenchState): { startTick: number; endTick: number } | null {
  const ticks = pickedHits(state).map(({ tick }) => tick);
  if (ticks.length < 2) return null;
  const startTick = ticks.reduce((least, tick) => Math.min(least, tick));
  const endTick = ticks.reduce((most, tick) => Math.max(most, tick));
  return endTick > startTick ? { startTick, endTick } : null;
}

/** Keeps copies of what is picked, as far from the bar line of the first as they are. */
export function copy(bench: Bench): Said {
  return needPicked(bench, (placed) => {
    const { maps } = bench.store.getState();
    const [first] = extentOf(placed.map(({ tick }) => tick));
    const barTick = barAt(maps.meterMap, first).startTick;
    bench.store.setState({ clipboard: copiesOf(placed, -barTick) });
    return `Copied ${hitCount(placed.length)}.`;
  });
}

export function cut(bench: Bench): Said {
  return needPicked(bench, (placed) => {
    copy(bench);
    bench.store.commit(`Cut ${hitCount(placed.length)}`, { kind: "removeHits", hits: placed.map(({ hit }) => hit) });
    bench.store.pick(new Set());
    return `Cut ${hitCount(placed.length)}.`;
  });
}

/** Puts copies into the bar of the playhead, each on its own drum. */
export function paste(bench: Bench): Said {
  const { clipboard, maps, playheadTick } = bench.store.getState();
  if (clipboard.length === 0) return "Nothing is copied yet.";
  const barTick = barAt(maps.meterMap, playheadTick).startTick;
  const strokes = clipboard.map((stroke) => ({ ...stroke, tick: stroke.tick + barTick }));
  showTick(bench, barTick);
  return write(bench, "Paste", strokes) ?? `Pasted ${hitCount(strokes.length)}.`;
}

/** Puts copies of hits of one lane on the open lane instead. */
export function pasteOntoOpenLane(bench: Bench): Said {
  const state = bench.store.getState();
  const lane = workingLane(state);
  if (!lane) return "Open a lane first.";
  if (state.clipboard.length === 0) return "Nothing is copied yet.";
  const { articulationId } = strokeOfLane(lane, new Set());
  const barTick = barAt(state.maps.meterMap, state.playheadTick).startTick;
  const strokes = state.clipboard.map(({ tick, velocity }) => ({
    voiceId: lane.voiceId,
    articulationId,
    tick: tick + barTick,
    velocity,
  }));
  return write(bench, `Paste onto ${lane.voice.name}:`, strokes) ?? `Pasted ${hitCount(strokes.length)}.`;
}

/** Repeats what is picked right behind itself, in whole beats. */
export function duplicate(bench: Bench): Said {
  return needPicked(bench, (placed) => {
    const { meterMap } = bench.store.getState().maps;
    const strokes = copiesOf(placed, distanceOfCopies(placed, meterMap));
    showTick(bench, extentOf(strokes.map(({ tick }) => tick))[0]);
    return write(bench, "Repeat", strokes) ?? `Repeated ${hitCount(strokes.length)}.`;
  });
}

/** Makes two hits of each that is picked, within a step of its lane. */
export function split(bench: Bench): Said {
  return needPicked(bench, (placed) => {
    const { lanes, maps } = bench.store.getState();
    const strokes = lanes.flatMap((lane) => {
      const own = placed.filter(({ hit }) => hit.voiceId === lane.voiceId);
      return splitStrokes(
        own,
        2,
        gridStepTicks(handGridAt(lane.treatment.timing, own[0]?.tick ?? 0), maps.meterMap.ppq),
      );
    });
    return write(bench, "Split into", strokes) ?? `Split ${hitCount(placed.length)}.`;
  });
}

export function glueTogether(bench: Bench): Said {
  return needPicked(bench, (placed) => {
    const edit = glue(placed);
    const voices = new Set(placed.map(({ hit }) => hit.voiceId)).size;
    if (placed.length === voices) return "Select at least two hits of one drum.";
    bench.store.commit(`Glue ${hitCount(placed.length)}`, edit);
    return `Made ${hitCount(voices)} of ${placed.length}.`;
  });
}

/** Half or double time, from the beat of the first hit on. */
export function stretch(bench: Bench, factor: 2 | 0.5): Said {
  return needPicked(bench, (placed) => {
    const { pattern, maps } = bench.store.getState();
    const [first] = extentOf(placed.map(({ tick }) => tick));
    const edit = stretchHits(pattern, placed, pulseAt(maps.meterMap, first + maps.meterMap.ppq / 10), factor);
    if (!edit) return "Some hits would leave the take.";
    bench.store.commit(`${factor === 2 ? "Half" : "Double"} the time of ${hitCount(placed.length)}`, edit);
  });
}

/** A stop: clears the loop of everything except the open lane. */
export function clearLoop(bench: Bench): Said {
  const state = bench.store.getState();
  if (!state.loop) return "Loop the stretch to clear first.";
  const { startTick, endTick } = state.loop;
  const gone = allPlaced(state).filter(
    ({ hit, tick }) => hit.voiceId !== state.openVoiceId && tick >= startTick && tick < endTick,
  );
  if (gone.length === 0) return "There is nothing to clear in the loop.";
  bench.store.commit(`Clear ${hitCount(gone.length)}`, { kind: "removeHits", hits: gone.map(({ hit }) => hit) });
  const kept = workingLane(state)?.voice.name;
  return `Cleared ${hitCount(gone.length)}${kept ? `; ${kept} is left` : ""}.`;
}

const PICKS = {
  likeStrokes: (state: BenchState) => likeStrokes(allPlaced(state), pickedHits(state)),
  likeLoudness: (state: BenchState) => likeLoudness(allPlaced(state), pickedHits(state)),
  likePlaces: (state: BenchState) => likePlaces(allPlaced(state), pickedHits(state), state.maps.meterMap),
  others: (state: BenchState) => others(allPlaced(state), pickedHits(state)),
} as const;

export function pickBy({ store }: Bench, kind: keyof typeof PICKS): Said {
  const state = store.getState();
  if (kind !== "others" && state.picked.size === 0) return "Select a hit first, to find others like it.";
  store.pick(PICKS[kind](state));
}

/** Picks what is in the loop: of the open lane, or of all lanes if none is open. */
export function pickLoop({ store }: Bench): Said {
  const state = store.getState();
  if (!state.loop) return "Loop a stretch first.";
  const { startTick, endTick } = state.loop;
  const inside = allPlaced(state).filter(
    ({ hit, tick }) =>
      (state.openVoiceId === null || hit.voiceId === state.openVoiceId) && tick >= startTick && tick < endTick,
  );
  store.pick(new Set(inside.map(({ hit }) => hit.id)));
}

/** What hits of a lane are drawn on at a place: the grid of its timing there, unless another was chosen for drawing. */
export function drawGridOf({ drawGrids }: BenchState, lane: LaneView, tick: number): Grid | "off" {
  return drawGrids.get(lane.voiceId) ?? handGridAt(lane.treatment.timing, tick);
}

/** Where a hit is drawn: the slot of the lane's grid, or exactly there. */
export function drawnTick(state: BenchState, lane: LaneView, tick: number, isFree: boolean): number {
  const grid = drawGridOf(state, lane, tick);
  const place = isFree || grid === "off" ? tick : nearestSlots(grid, state.maps.meterMap, tick).slotTick;
  return Math.max(0, Math.min(state.pattern.lengthTicks - 1, Math.round(place)));
}

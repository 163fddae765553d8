import {
  burstBetween,
  burstTicks,
  type Clip,
  canWrite,
  clipOf,
  copiesOf,
  distanceOfCopies,
  emptySlots,
  glue,
  likeLoudness,
  likePlaces,
  likeStrokes,
  others,
  type PastePlan,
  type PlacedHit,
  planPaste,
  pulseAt,
  ramp,
  type Stroke,
  splitStrokes,
  stretchHits,
  withoutTaken,
  writeStrokes,
} from "../../../core/commands/index.ts";
import { baseVelocity, type CopiedMarks, type Edit, type Hit, type Pattern } from "../../../core/document/index.ts";
import { extentOf } from "../../../core/extent.ts";
import {
  barAt,
  formatBarBeat,
  type Grid,
  gridName,
  gridStepTicks,
  handGridAt,
  nearestSlots,
  nextBarLine,
} from "../../../core/time/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { pickedHits } from "../../../store/bench/bench-selectors.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import { clipboard, keepClip } from "../../../store/bench/clipboard.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { hitCount, needPicked, showTick, wholeBarsInView, workingLane } from "./actions.ts";

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
  if (added.length === 0) return "There is no room for it: it would lie before the start of the take.";
  store.pick(new Set(added.map((hit) => hit.id)));
  const missing = strokes.length - added.length;
  if (missing > 0) return `${hitCount(missing)} would lie before the start of the take and were left out.`;
  return grownWords(pattern, store.getState());
}

/** That a take has got bars at its end, if it has. */
function grownWords(before: Pick<Pattern, "lengthTicks">, { pattern, maps }: BenchState): string | null {
  if (pattern.lengthTicks <= before.lengthTicks) return null;
  return `The take goes on to bar ${barAt(maps.meterMap, pattern.lengthTicks - 1).barIndex + 1} now.`;
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

/** The stroke that is written in a lane: the one chosen for it, or its usual one. */
function drawnStrokeOf({ drawing, picked }: BenchState, lane: LaneView): string {
  return drawing.strokes.get(lane.voiceId) ?? strokeOfLane(lane, picked).articulationId;
}

/** What is drawn has the length that was chosen for it. */
export function drawnMarks({ drawing, maps }: Pick<BenchState, "drawing" | "maps">): CopiedMarks {
  const { lengthQuarters } = drawing;
  return lengthQuarters === null ? {} : { lengthTicks: Math.max(1, Math.round(lengthQuarters * maps.meterMap.ppq)) };
}

/** The loop, or the whole bars in view; the bar that is looked into where none is whole. */
export function meantStretch({ loop, viewport, maps, pattern }: BenchState): { startTick: number; endTick: number } {
  if (loop) return loop;
  const whole = wholeBarsInView({ viewport, maps, pattern });
  if (whole) return whole;
  const startTick = barAt(maps.meterMap, Math.max(0, viewport.startTick)).startTick;
  return { startTick, endTick: nextBarLine(maps.meterMap, startTick + 1) };
}

/** Fills every nth empty slot of the open lane, in the loop or in view, or among what is picked. */
export function fill(bench: Bench): Said {
  const state = bench.store.getState();
  const { where, every, from, velocity } = state.fill;
  const lane = workingLane(state);
  if (!lane) return "Open a lane first.";
  const articulationId = drawnStrokeOf(state, lane);
  const { meterMap } = state.maps;
  const span = where === "picked" ? pickedSpan(state) : meantStretch(state);
  if (!span) return PICK_TWO;
  const grid = state.fill.grid ?? drawGridOf(state, lane, span.startTick);
  const slotOf = (tick: number) => nearestSlots(grid, meterMap, tick).slotTick;
  // What is picked was played, so its slots are looked for; both are among those that may be filled.
  const { startTick, endTick } =
    where === "picked" ? { startTick: slotOf(span.startTick), endTick: slotOf(span.endTick) + 1 } : span;
  const slots = emptySlots(placedOf(lane), meterMap, grid, { startTick, endTick, every, offset: from - 1 });
  if (slots.length === 0) return "Every slot that was meant has a hit already.";
  const marks = drawnMarks(state);
  const strokes = slots.map((tick) => ({ voiceId: lane.voiceId, articulationId, tick, velocity, marks }));
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
  const articulationId = drawnStrokeOf(state, lane);
  const marks = drawnMarks(state);
  const near = (ticks.length > 1 ? ticks[1]! - ticks[0]! : state.maps.meterMap.ppq) / 3;
  const strokes = ticks.flatMap((tick, index) =>
    where !== "into" && where !== "hit" && lane.cleaned.ticks.some((taken) => Math.abs(taken - tick) < near)
      ? []
      : [{ voiceId: lane.voiceId, articulationId, tick, velocity: velocities[index]!, marks }],
  );
  if (strokes.length === 0) return "Every place of the roll has a hit already.";
  showTick(bench, ticks[0]!);
  const place =
    where === "into"
      ? "into the bar line"
      : where === "hit"
        ? "into the selected hit"
        : where === "loop"
          ? "through the loop"
          : "between the selected hits";
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
  if (where === "hit") {
    const ticks = pickedHits(state).map(({ tick }) => tick);
    return ticks.length === 0
      ? "Select the hit that the roll leads into."
      : burstTicks(extentOf(ticks)[0], count, stepTicks);
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

/** Keeps copies of what is picked, as it sounds. */
export function copy(bench: Bench): Said {
  return needPicked(bench, (placed) => {
    const { pattern, maps } = bench.store.getState();
    keepClip(clipOf(pattern, maps.meterMap, placed));
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

/** The copies, all on one drum if they are laid onto that. */
function clipFor(lane: LaneView | null): Clip | null {
  const { clip } = clipboard.getState();
  if (!clip || !lane) return clip;
  const { articulationId } = strokeOfLane(lane, new Set());
  const { id: voiceId, name: voiceName, family } = lane.voice;
  const strokes = clip.strokes.map((stroke) => ({ ...stroke, voiceId, voiceName, family, articulationId }));
  return { ...clip, strokes };
}

/** What pasting would do now; null if nothing is copied. @param lane the one drum that the copies go onto; null for their own */
export function pastePlan(state: BenchState, newId: () => string, lane: LaneView | null = null): PastePlan | null {
  const clip = clipFor(lane);
  if (!clip) return null;
  const working = lane ?? workingLane(state);
  const { playheadTick, maps, pattern, pasteWish } = state;
  const grid = working ? drawGridOf(state, working, playheadTick) : null;
  const atTick = grid ? nearestSlots(grid, maps.meterMap, playheadTick).slotTick : pulseAt(maps.meterMap, playheadTick);
  return planPaste(pattern, allPlaced(state), maps.meterMap, clip, atTick, pasteWish, newId);
}

/** What a paste would do or has done, in words, from where on and what stays out. */
export function pasteWords({ maps }: BenchState, plan: PastePlan): string {
  const { written, inWayCount, replaced, missing, newBars, isOtherMeter } = plan;
  return [
    `${hitCount(written.length)} at ${formatBarBeat(maps.meterMap, plan.startTick)}`,
    ...(newBars > 0 ? [`in ${newBars === 1 ? "a new bar" : `${newBars} new bars`}; what follows moves on`] : []),
    ...(replaced.length > 0 ? [`in place of ${replaced.length}`] : []),
    ...(inWayCount > 0 ? [`${inWayCount} left out, since a hit is there already`] : []),
    ...(missing.length > 0 ? [`no ${missing.join(" or ")} in this kit`] : []),
    ...(isOtherMeter ? ["copied from bars of another length"] : []),
  ].join("; ");
}

/** Lays the copies where the playhead is, as was wished for last. */
export function paste(bench: Bench): Said {
  return pasteOn(bench, null, "Paste");
}

/** Lays the copies on the open lane instead of their own drums. */
export function pasteOntoOpenLane(bench: Bench): Said {
  const lane = workingLane(bench.store.getState());
  return lane ? pasteOn(bench, lane, `Paste onto ${lane.voice.name}:`) : "Open a lane first.";
}

function pasteOn(bench: Bench, lane: LaneView | null, verb: string): Said {
  const { store } = bench;
  // What was shown of it is not there yet.
  store.endPreview();
  const state = store.getState();
  if (!canWrite(state.pattern)) return NO_DRUMS;
  const plan = pastePlan(state, store.newId, lane);
  if (!plan) return "Nothing is copied yet.";
  const words = pasteWords(state, plan);
  if (plan.written.length === 0) return `Nothing pasted: ${words}.`;
  const before = new Set(state.pattern.hits.map((hit) => hit.id));
  store.commit(`${verb} ${hitCount(plan.written.length)}`, plan.edit);
  store.pick(new Set(store.getState().pattern.hits.flatMap(({ id }) => (before.has(id) ? [] : [id]))));
  showTick(bench, plan.startTick);
  const grown = grownWords(state.pattern, store.getState());
  return `Pasted ${words}.${grown ? ` ${grown}` : ""}`;
}

/** Repeats what is picked right behind itself, in whole beats. What is there already stays, and nothing is doubled. */
export function duplicate(bench: Bench): Said {
  return needPicked(bench, (placed) => {
    const state = bench.store.getState();
    const { meterMap } = state.maps;
    const wanted = copiesOf(placed, distanceOfCopies(placed, meterMap));
    const strokes = withoutTaken(wanted, allPlaced(state), state.pattern.ppq);
    if (strokes.length === 0) return "Nothing repeated: every place has a hit already.";
    showTick(bench, extentOf(strokes.map(({ tick }) => tick))[0]);
    const kept = wanted.length - strokes.length;
    const words = `Repeated ${hitCount(strokes.length)}${kept > 0 ? `; ${kept} left out, since a hit is there already` : ""}.`;
    return write(bench, "Repeat", strokes) ?? words;
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
    if (!edit) return "Some hits would lie before the start of the take.";
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
export function drawGridOf({ drawGrids }: Pick<BenchState, "drawGrids">, lane: LaneView, tick: number): Grid {
  return drawGrids.get(lane.voiceId) ?? handGridAt(lane.treatment.timing, tick);
}

/** Where a hit is drawn: the slot of the lane's grid, or exactly there. */
export function drawnTick(state: BenchState, lane: LaneView, tick: number, isFree: boolean): number {
  const grid = drawGridOf(state, lane, tick);
  const place = isFree ? tick : nearestSlots(grid, state.maps.meterMap, tick).slotTick;
  return Math.max(0, Math.round(place));
}

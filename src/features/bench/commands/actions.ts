import {
  changeTiming,
  changeTreatments,
  changeVelocityBy,
  keepHits,
  loudnessOf,
  moveHitsBy,
  onFoundGrid,
  type PlacedHit,
  toggleMuted,
  withQuantize,
} from "../../../core/commands/index.ts";
import { type Edit, type Pattern, voicesOfFile } from "../../../core/document/index.ts";
import { levelVelocities, limitVelocity, meanVelocity } from "../../../core/dynamics/index.ts";
import { extentOf } from "../../../core/extent.ts";
import type { Side } from "../../../core/song/index.ts";
import {
  barAt,
  handGridAt,
  msToTick,
  nearestSlots,
  nextBarLine,
  slotStepsAway,
  tickToMs,
} from "../../../core/time/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { pickedHits, visibleLanes } from "../../../store/bench/bench-selectors.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import { type LaneView, shownSide, sideOf } from "../../../store/bench/lane-view.ts";
import { xToTick, zoomAround } from "../../../store/bench/viewport.ts";

export const NUDGE_MS = 2;
export const LOUDER = 4;

/** The lane that is worked on: the open one, or the one that holds all picked hits. */
export function workingLane(state: BenchState): LaneView | undefined {
  return state.lanes.find((lane) => lane.voiceId === state.openVoiceId);
}

/** An amount with its sign: steps named so are summed up when they are taken back. */
const signed = (amount: number) => `${amount < 0 ? "−" : "+"}${Math.abs(amount)}`;

export const hitCount = (count: number) => `${count} ${count === 1 ? "hit" : "hits"}`;

export function needPicked(
  { store }: Bench,
  act: (placed: readonly PlacedHit[]) => string | null | void,
): string | null | void {
  const placed = pickedHits(store.getState());
  return placed.length === 0 ? "Select some hits first: click one, or drag around several." : act(placed);
}

export function nudgeByMs(bench: Bench, ms: number) {
  return needPicked(bench, (placed) => {
    const { pattern, maps } = bench.store.getState();
    const tick = placed[0]!.tick;
    const moved = msToTick(maps.tempoMap, tickToMs(maps.tempoMap, tick) + ms) - tick;
    const delta = Math.sign(moved) * Math.max(1, Math.round(Math.abs(moved)));
    bench.store.commit(`Nudge ${hitCount(placed.length)} ${signed(ms)} ms`, moveHitsBy(pattern, placed, delta));
  });
}

/** Moves what is picked by single ticks, the finest there is. */
export function nudgeByTicks(bench: Bench, ticks: number) {
  return needPicked(bench, (placed) => {
    const edit = moveHitsBy(bench.store.getState().pattern, placed, ticks);
    bench.store.commit(
      `Nudge ${hitCount(placed.length)} ${signed(ticks)} ${Math.abs(ticks) === 1 ? "tick" : "ticks"}`,
      edit,
    );
  });
}

export function moveBySteps(bench: Bench, steps: number) {
  return needPicked(bench, (placed) => {
    const { pattern, maps, lanes } = bench.store.getState();
    const lane = lanes.find((candidate) => candidate.voiceId === placed[0]!.hit.voiceId);
    if (!lane) return;
    const grid = handGridAt(lane.treatment.timing, placed[0]!.tick);
    const { slotTick } = nearestSlots(grid, maps.meterMap, placed[0]!.tick);
    const delta = slotStepsAway(grid, maps.meterMap, placed[0]!.tick, steps) - slotTick;
    bench.store.commit(
      `Move ${hitCount(placed.length)} ${signed(steps)} ${Math.abs(steps) === 1 ? "step" : "steps"}`,
      moveHitsBy(pattern, placed, delta),
    );
  });
}

export function changeLoudness(bench: Bench, delta: number) {
  return needPicked(bench, (placed) => {
    const hits = placed.map(({ hit }) => hit);
    bench.store.commit(
      `Velocity of ${hitCount(hits.length)} ${signed(delta)}`,
      changeVelocityBy(hits, delta, loudnessOf(placed)),
    );
    auditionHit(bench, hits[0]!.id);
  });
}

/** Makes what is picked as loud as its mean. */
export function level(bench: Bench) {
  return needPicked(bench, (placed) => {
    const hits = placed.map(({ hit }) => hit);
    const velocity = limitVelocity(meanVelocity(hits, loudnessOf(placed)));
    bench.store.commit(`Level ${hitCount(hits.length)} at ${velocity}`, levelVelocities(hits, loudnessOf(placed)));
    return `Levelled ${hitCount(hits.length)} at ${velocity}.`;
  });
}

/** Mutes what is picked, or lets it sound again: also what the repair leaves out. */
export function muteHits(bench: Bench) {
  return needPicked(bench, (placed) => {
    const { pattern } = bench.store.getState();
    const hits = placed.map(({ hit }) => hit);
    const leftOut = leftOutIds(pattern);
    const sounding = hits.filter((hit) => !hit.isMuted && !leftOut.has(hit.id));
    const isMuting = sounding.length > 0;
    const silent = hits.filter((hit) => leftOut.has(hit.id));
    const edit: Edit = isMuting
      ? toggleMuted(sounding)
      : { kind: "together", edits: [toggleMuted(hits.filter((hit) => hit.isMuted)), keepHits(pattern, silent)] };
    bench.store.commit(`${isMuting ? "Mute" : "Unmute"} ${hitCount(hits.length)}`, edit);
    return isMuting
      ? `Muted ${hitCount(hits.length)}: still here, but neither heard nor exported.`
      : `${hitCount(hits.length)} can be heard again.`;
  });
}

/** The hits that the repair steps leave out. */
export function leftOutIds({ lanes }: Pick<Pattern, "lanes">): ReadonlySet<string> {
  return new Set(lanes.flatMap(({ treatment }) => treatment.repair?.leftOut ?? []));
}

export function removePicked(bench: Bench) {
  return needPicked(bench, (placed) => {
    const label = `Remove ${hitCount(placed.length)}`;
    bench.store.commit(label, { kind: "removeHits", hits: placed.map(({ hit }) => hit) });
    bench.store.pick(new Set());
    return `Removed ${hitCount(placed.length)}.`;
  });
}

/** Plays from where the pointer is over the lanes. */
export function playFromPointer({ pointerTick, playback, store }: Bench): string | null | void {
  if (pointerTick === null) return "Put the pointer over the lanes first, where it should play from.";
  playback.seek(Math.max(0, Math.round(pointerTick)));
  if (!store.getState().isPlaying) void playback.play();
}

/** Sounds a hit at the velocity that it has now. */
export function auditionHit({ store, playback }: Bench, hitId: string): void {
  const state = store.getState();
  for (const lane of state.lanes) {
    const row = lane.hits.findIndex((hit) => hit.id === hitId);
    if (row === -1) continue;
    void playback.audition(
      lane.voiceId,
      lane.hits[row]!.articulationId,
      sideOf(lane, shownSide(state, lane)).velocities[row]!,
    );
    return;
  }
}

/** Picks the next hit of the open lane, or the one before; with `isAdding`, besides those that are picked. */
export function pickNeighbour(bench: Bench, direction: 1 | -1, isAdding = false) {
  const state = bench.store.getState();
  const lane = workingLane(state);
  if (!lane || lane.hits.length === 0) return "Open a lane that has hits first.";
  const { ticks } = sideOf(lane, shownSide(state, lane));
  const pickedRows = lane.hits.flatMap((hit, row) => (state.picked.has(hit.id) ? [row] : []));
  const from = direction === 1 ? pickedRows.at(-1) : pickedRows[0];
  const row =
    from === undefined
      ? Math.max(
          0,
          ticks.findIndex((tick) => tick >= state.viewport.startTick),
        )
      : from + direction;
  const hit = lane.hits[row];
  if (!hit) return;
  bench.store.pick(new Set(isAdding ? [...state.picked, hit.id] : [hit.id]));
  showTick(bench, ticks[row]!);
  auditionHit(bench, hit.id);
}

/** Scrolls until a tick is in view. */
export function showTick({ store }: Bench, tick: number): void {
  const { viewport } = store.getState();
  // What can be seen already stays where it is.
  const endTick = xToTick(viewport, viewport.widthPx - 4);
  if (tick >= viewport.startTick && tick <= endTick) return;
  store.setViewport({ ...viewport, startTick: tick - viewport.widthPx * 0.3 * viewport.ticksPerPx });
}

/** Switches the timing of the open lane on or off. */
export function toggleTiming(bench: Bench): string | null | void {
  const { pattern, openVoiceId } = bench.store.getState();
  const lane = pattern.lanes.find(({ voiceId }) => voiceId === openVoiceId);
  if (!lane) return "Open a lane first.";
  const isOn = !lane.treatment.timing.isOn;
  const edit = changeTiming(pattern, new Set([lane.voiceId]), (timing) => withQuantize(timing, isOn));
  bench.store.commit(`Switch the timing of ${lane.voiceId} ${isOn ? "on" : "off"}`, edit);
}

/** Switches the timing of every voice on, each on the grid it was played on. */
export function tightenAll(bench: Bench): string {
  const { pattern, summaries } = bench.store.getState();
  const loose = pattern.lanes.filter((lane) => !lane.treatment.timing.isOn).map((lane) => lane.voiceId);
  const late = voicesOfFile(pattern);
  const edit = changeTreatments(pattern, new Set(loose), (treatment, voiceId) => {
    const found = summaries.get(voiceId)?.found;
    const placed = found && !found.isPoor ? onFoundGrid(treatment, found, late.has(voiceId)) : treatment;
    return { ...placed, timing: withQuantize(placed.timing, true) };
  });
  bench.store.commit(`Quantize ${loose.length} voices`, edit);
  return loose.length === 0
    ? "Every voice is quantized already."
    : `Quantized ${loose.length} voices, each on its own grid.`;
}

export function loopWhatIsMeant({ store }: Bench): string | null | void {
  const state = store.getState();
  if (state.loop) {
    store.setLoop(null);
    return;
  }
  const placed = pickedHits(state);
  const { meterMap } = state.maps;
  const [firstTick, lastTick] = extentOf(placed.map(({ tick }) => tick));
  const loop =
    placed.length > 0
      ? {
          startTick: barAt(meterMap, firstTick).startTick,
          endTick: Math.min(state.pattern.lengthTicks, nextBarLine(meterMap, lastTick + 1)),
        }
      : wholeBarsInView(state);
  if (!loop) return "There is no whole bar in view to loop. Zoom out, or drag on the ruler.";
  store.setLoop(loop);
}

/** The bars that can be seen from line to line; null if there is none. */
export function wholeBarsInView({
  viewport,
  maps,
  pattern,
}: Pick<BenchState, "viewport" | "maps" | "pattern">): { startTick: number; endTick: number } | null {
  const startTick = nextBarLine(maps.meterMap, Math.max(0, viewport.startTick));
  const lastTick = barAt(maps.meterMap, Math.max(0, xToTick(viewport, viewport.widthPx))).startTick;
  const endTick = Math.min(pattern.lengthTicks, lastTick);
  return endTick > startTick ? { startTick, endTick } : null;
}

export function zoom({ store }: Bench, factor: number): void {
  const { viewport, pattern } = store.getState();
  store.setViewport(zoomAround(viewport, viewport.widthPx / 2, factor, pattern.lengthTicks));
}

export function openNeighbour({ store }: Bench, direction: 1 | -1): void {
  const { openVoiceId } = store.getState();
  const lanes = visibleLanes(store.getState());
  const index = lanes.findIndex((lane) => lane.voiceId === openVoiceId);
  const next = lanes[index === -1 ? 0 : index + direction];
  if (!next) return;
  if (store.getState().frontVoiceId !== null) store.setFront(next.voiceId);
  store.openLane(next.voiceId);
}

export function toggleFront({ store }: Bench): string | null | void {
  const { frontVoiceId, openVoiceId, lanes } = store.getState();
  if (frontVoiceId === null && openVoiceId === null) return "Open a lane first.";
  const next = frontVoiceId === null ? openVoiceId : null;
  store.setFront(next);
  const name = lanes.find((lane) => lane.voiceId === next)?.voice.name;
  return name ? `${name} is in front. The others can be heard, but not changed.` : "All lanes are level again.";
}

/** Voices can be muted, heard alone, or heard as recorded. */
export type VoiceSet = "muted" | "soloed" | "asRecorded";

export function toggleIn(bench: Bench, set: VoiceSet): string | null | void {
  const lane = workingLane(bench.store.getState());
  if (!lane) return "Open a lane first.";
  toggleVoice(bench, set, lane.voiceId);
}

export function toggleVoice({ store }: Bench, set: VoiceSet, voiceId: string): void {
  const next = new Set(store.getState()[set]);
  if (!next.delete(voiceId)) next.add(voiceId);
  store.setVoices(set, next);
}

/** Held, the other one for a moment: from without feel to recorded as well. */
export function flipSide({ store }: Bench): void {
  store.setSide(store.getState().side === "recorded" ? "cleaned" : "recorded");
}

export function turnTo({ store }: Bench, side: Side): void {
  store.setSide(side);
}

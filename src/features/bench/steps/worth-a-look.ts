import { changeTiming, leaveOut, type PlacedHit, pinHits, withTiming } from "../../../core/commands/index.ts";
import { baseTick, type Hit, lateMsOf } from "../../../core/document/index.ts";
import { remembering } from "../../../core/remember.ts";
import { type Fault, faultSentence } from "../../../core/study/index.ts";
import {
  barAt,
  formatBarBeat,
  gridName,
  isSameGrid,
  nextBarLine,
  PlanFinder,
  tickAfterMs,
  withStretch,
} from "../../../core/time/index.ts";
import { type CloseReading, FLAG } from "../../../core/timing/index.ts";
import { otherReadingOf } from "../../../core/treat.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { auditionHit, hitCount, needPicked, showTick, workingLane } from "../commands/actions.ts";

// The hits that a person should look at before they trust a lane, why, and what can be done about each.

/** A hit that is worth a look. */
export interface Look {
  readonly row: number;
  readonly hitId: string;
  /** Given if nobody seems to have played it. */
  readonly fault: Fault | null;
}

const rememberLooks = remembering<LaneView, readonly Look[]>();

/** What is worth a look in a lane, in order of time; without what a person has seen already. */
export function looksOf(state: Pick<BenchState, "summaries" | "seen">, lane: LaneView): readonly Look[] {
  const { summaries, seen } = state;
  return rememberLooks(lane, [summaries, seen], () => findLooks(state, lane));
}

function findLooks({ summaries, seen }: Pick<BenchState, "summaries" | "seen">, lane: LaneView): readonly Look[] {
  const faults = new Map((summaries.get(lane.voiceId)?.faults ?? []).map((fault) => [fault.hitId, fault]));
  const isTreated = lane.treatment.timing.isOn;
  const looks: Look[] = [];
  // Asked on every frame of a drag, for thousands of hits: nothing is made for those that need no look.
  for (let row = 0; row < lane.hits.length; row++) {
    const isFlagged = isTreated && lane.cleaned.flags[row] !== 0;
    if (!isFlagged && faults.size === 0) continue;
    const hit = lane.hits[row]!;
    const fault = faults.get(hit.id) ?? null;
    if ((fault || isFlagged) && !hit.isMuted && lane.cleaned.isLeftOut[row] === 0 && !seen.has(hit.id))
      looks.push({ row, hitId: hit.id, fault });
  }
  return looks;
}

/** Why a hit is worth a look, in words. What nobody played need not be asked where it belongs. */
export function reasonsOfLook(lane: LaneView, { row, fault }: Look): readonly string[] {
  return fault ? [faultSentence(fault, (voiceId) => nameOfVoice(lane, voiceId))] : flagWords(lane.cleaned.flags[row]!);
}

function nameOfVoice({ noteMap, voice }: LaneView, voiceId: string): string {
  return voiceId === voice.id ? voice.name : (noteMap.voices.find(({ id }) => id === voiceId)?.name ?? voiceId);
}

function flagWords(flags: number): readonly string[] {
  const words: string[] = [];
  if (flags & FLAG.fence) words.push("It lies half-way between two slots.");
  if (flags & FLAG.jump) words.push("It moves far.");
  if (flags & FLAG.collision) words.push("Two hits on one slot: kept as a flam.");
  if (flags & FLAG.order) words.push("It would have passed its neighbour, and was kept in order.");
  if (flags & FLAG.rareStep) words.push("Steps that this drum has only here: another grid may be meant.");
  if (flags & FLAG.poorFit) words.push("This drum has few hits, and they lie badly on its grid.");
  if (flags & FLAG.closeReading) words.push("On another grid this beat would fit nearly as well.");
  if (flags & FLAG.along) words.push("Moved along with its roll or its main stroke: it may have a slot of its own.");
  return words;
}

/** Where a look is, as it is written in the list. */
export function placeOfLook(lane: LaneView, { row }: Look): string {
  return formatBarBeat(lane.maps.meterMap, lane.recorded.ticks[row]!);
}

/** Picks a hit that is worth a look, brings it into view, and sounds it. */
export function goToLook(bench: Bench, lane: LaneView, look: Look): void {
  bench.store.pick(new Set([look.hitId]));
  showTick(bench, lane.cleaned.ticks[look.row]!);
  auditionHit(bench, look.hitId);
}

/** Goes to the next hit of the open lane that is worth a look. */
export function goToNextLook(bench: Bench): string | null | void {
  const state = bench.store.getState();
  const lane = workingLane(state);
  const looks = lane ? looksOf(state, lane) : [];
  if (!lane || looks.length === 0) return "No doubtful hits in this lane.";
  const picked = looks.findIndex(({ hitId }) => state.picked.has(hitId));
  // One that was just dealt with is no longer in the list: the next is the first behind what is picked.
  const pickedRow = lane.hits.findIndex((hit) => state.picked.has(hit.id));
  const behind = looks.findIndex(({ row }) => row > pickedRow);
  const next = picked === -1 ? looks[Math.max(0, behind)] : looks[(picked + 1) % looks.length];
  bench.store.setReviewing(true);
  if (next) goToLook(bench, lane, next);
}

/** Loops the bar of what is picked, and plays it: a place is judged by ear. */
export function hearAround(bench: Bench): string | null | void {
  return needPicked(bench, (placed) => {
    const { store, playback } = bench;
    const { maps, pattern, isPlaying } = store.getState();
    const first = placed.reduce((least, { tick }) => Math.min(least, tick), Number.POSITIVE_INFINITY);
    const last = placed.reduce((most, { tick }) => Math.max(most, tick), 0);
    const startTick = barAt(maps.meterMap, first).startTick;
    const endTick = Math.min(pattern.lengthTicks, nextBarLine(maps.meterMap, last + 1));
    store.setLoop({ startTick, endTick });
    playback.seek(startTick);
    if (!isPlaying) void playback.play();
  });
}

/** Takes what is picked as it is: it is not asked about again. */
export function acceptLook(bench: Bench): string | null | void {
  return needPicked(bench, (placed) => {
    const { store } = bench;
    store.addSeen(placed.map(({ hit }) => hit.id));
    goToNextLook(bench);
  });
}

/** What the beat of a hit may be meant as instead, where that is why it is worth a look. */
export function otherReading(lane: LaneView, { row, fault }: Look): CloseReading | null {
  const isClose = fault === null && (lane.cleaned.flags[row]! & FLAG.closeReading) !== 0;
  return isClose ? otherReadingOf(lane.hits, lane.treatment, lane.maps, row) : null;
}

/** Reads a beat otherwise: it follows that grid. Where what it was is still close, that is offered in turn, so that both can be heard. */
export function readOtherwise({ store }: Bench, lane: LaneView, { startTick, endTick, grid }: CloseReading): string {
  const place = formatBarBeat(lane.maps.meterMap, startTick);
  const edit = changeTiming(store.getState().pattern, new Set([lane.voiceId]), (timing) => {
    const stretches = withStretch(timing, startTick, endTick, isSameGrid(grid, timing.grid) ? null : grid);
    return withTiming(timing, { stretches });
  });
  store.commit(`Use ${gridName(grid)} at ${place} of ${lane.voice.name}`, edit);
  return `The beat at ${place} follows ${gridName(grid)}.`;
}

/** Puts what is picked on the slot on its other side, and pins it there. */
export function takeOtherSlot(bench: Bench): string | null | void {
  return needPicked(bench, (placed) => {
    const { lanes } = bench.store.getState();
    const moved = placed.flatMap(({ hit }): PlacedHit[] => {
      const lane = lanes.find(({ voiceId }) => voiceId === hit.voiceId);
      return lane && hit.recordedTick !== null ? [{ hit, tick: otherSlot(lane, hit) }] : [];
    });
    bench.store.commit(
      `Take the other slot for ${hitCount(moved.length)}`,
      pinHits(bench.store.getState().pattern, moved),
    );
    return `Moved ${hitCount(moved.length)} to the other slot.`;
  });
}

/** The second nearest slot of a place, as far as the lane's strength pulls towards it. */
export function otherSlot({ treatment, maps }: LaneView, hit: Hit): number {
  const { timing } = treatment;
  const playedTick = onTime({ treatment, maps }, hit);
  const meantTick = tickAfterMs(maps.tempoMap, playedTick, -timing.pocketMs);
  const { secondSlotTick } = new PlanFinder(timing, maps.meterMap).find(meantTick);
  const strength = timing.isOn ? timing.strengthPercent / 100 : 1;
  return Math.max(0, Math.round(playedTick + (secondSlotTick - playedTick) * strength));
}

/** Where a hit was played, less what the whole take came in late by. */
function onTime({ treatment, maps }: Pick<LaneView, "treatment" | "maps">, hit: Hit): number {
  const lateMs = lateMsOf(hit, treatment.timing);
  const recordedTick = hit.recordedTick ?? baseTick(hit);
  return lateMs === 0 ? recordedTick : Math.max(0, tickAfterMs(maps.tempoMap, recordedTick, -lateMs));
}

/** Pins what is picked where it was played: where it was recorded, less what the whole take came in late by. */
export function leaveAsRecorded(bench: Bench): string | null | void {
  return needPicked(bench, (placed) => {
    const { lanes } = bench.store.getState();
    const recorded = placed.flatMap(({ hit }): PlacedHit[] => {
      const lane = lanes.find(({ voiceId }) => voiceId === hit.voiceId);
      return lane && hit.recordedTick !== null ? [{ hit, tick: Math.round(onTime(lane, hit)) }] : [];
    });
    bench.store.commit(
      `Leave ${hitCount(recorded.length)} as recorded`,
      pinHits(bench.store.getState().pattern, recorded),
    );
    return recorded.length === 1
      ? "1 hit stays where it was recorded."
      : `${hitCount(recorded.length)} stay where they were recorded.`;
  });
}

/** Switches the repair of a lane on: it leaves out all that nobody seems to have played, but for what a person has kept. */
export function repairLane({ store }: Bench, lane: LaneView): string {
  const { pattern, summaries, seen } = store.getState();
  const before = lane.treatment.repair?.leftOut ?? [];
  const found = (summaries.get(lane.voiceId)?.faults ?? []).map(({ hitId }) => hitId);
  const more = found.filter((id) => !seen.has(id) && !before.includes(id));
  store.commit(
    `Mute ${hitCount(more.length)} of ${lane.voice.name}: double triggers and crosstalk`,
    leaveOut(pattern, lane.voiceId, [...before, ...more]),
  );
  return `Muted ${hitCount(more.length)}. They stay in the lane, dotted, and are still in the recording.`;
}

/** Switches the repair of a lane off: everything sounds as it was recorded. */
export function unrepairLane({ store }: Bench, { voiceId, voice }: LaneView): void {
  store.commit(`Switch the repair of ${voice.name} off`, leaveOut(store.getState().pattern, voiceId, []));
}

/** Leaves out what is picked, as part of the repair of its lane. */
export function leavePickedOut(bench: Bench): string | null | void {
  return needPicked(bench, (placed) => {
    const { pattern } = bench.store.getState();
    const voiceIds = [...new Set(placed.map(({ hit }) => hit.voiceId))];
    const edits = voiceIds.map((voiceId) => {
      const own = placed.filter(({ hit }) => hit.voiceId === voiceId).map(({ hit }) => hit.id);
      const before = pattern.lanes.find((lane) => lane.voiceId === voiceId)?.treatment.repair?.leftOut ?? [];
      return leaveOut(pattern, voiceId, [...new Set([...before, ...own])]);
    });
    bench.store.commit(`Mute ${hitCount(placed.length)}`, { kind: "together", edits });
    return `Muted ${hitCount(placed.length)}: still here, but neither heard nor exported.`;
  });
}

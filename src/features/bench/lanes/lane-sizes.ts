import type { Bench } from "../../../store/bench/bench-context.ts";
import { visibleLanes } from "../../../store/bench/bench-selectors.ts";
import type { BenchStore } from "../../../store/bench/bench-store.ts";
import { type LaneSize, LEAST_LANE_ZOOM, MOST_LANE_ZOOM, SLIM_LANE_ZOOM } from "../../../store/bench/view.ts";
import { boxesOf, FIELD_PX, isOpen, LOWEST_PX, TALLEST_CLOSED_PX, usualPx } from "./lane-layout.ts";

// How tall lanes are, and which are open.

const NO_SIZES: ReadonlyMap<string, LaneSize> = new Map();

const limited = (value: number, least: number, most: number) => Math.max(least, Math.min(most, value));

/** Makes all lanes taller or lower; those that a hand gave a height of their own keep it. */
export function zoomLanes(store: BenchStore, factor: number): void {
  store.setLaneZoom(limited(store.getState().laneZoom * factor, LEAST_LANE_ZOOM, MOST_LANE_ZOOM));
}

/** Makes one lane as tall as its edge was dragged to: closed all of it, open its velocity field. */
export function sizeLane(store: BenchStore, voiceId: string, heightPx: number): void {
  const state = store.getState();
  const box = boxesOf(state).find(({ voice }) => voice.id === voiceId);
  if (!box) return;
  const size = box.open
    ? { fieldPx: limited(box.base - box.open.fieldTop + heightPx - box.height, FIELD_PX.least, FIELD_PX.most) }
    : { closedPx: limited(heightPx, LOWEST_PX, TALLEST_CLOSED_PX) };
  store.setLaneSize(voiceId, { ...state.laneSizes.get(voiceId), ...size });
}

/** Gives a lane the height of the others back. */
export function unsizeLane(store: BenchStore, voiceId: string): void {
  store.setLaneSize(voiceId, null);
}

/** Makes every lane fit into what the screen shows, as far as they can be so low. */
export function fitLanes({ store }: Bench): string | null {
  const state = store.getState();
  const lanes = visibleLanes(state);
  const boxes = boxesOf({ ...state, laneSizes: new Map() });
  const openPx = boxes.filter(({ open }) => open).reduce((sum, { height }) => sum + height, 0);
  const closed = boxes.filter(({ open }) => !open).length;
  if (closed === 0) return "Every lane is open. Close one to fit the others.";
  const room = Math.max(LOWEST_PX, Math.floor((state.lanesViewPx - openPx) / closed));
  const laneZoom = limited(room / usualPx(state, lanes.length), LEAST_LANE_ZOOM, MOST_LANE_ZOOM);
  store.setLaneZoom(laneZoom, NO_SIZES);
  return null;
}

/** Makes every lane slim, the open ones too; again, as they were. */
export function slimAll({ store }: Bench): void {
  if (store.getState().laneZoom <= SLIM_LANE_ZOOM) {
    store.setLaneZoom(1);
    return;
  }
  store.openLane(null);
  store.setKeptOpen(new Set());
  store.setLaneZoom(SLIM_LANE_ZOOM, NO_SIZES);
}

/** Opens a lane or closes it; the lane that was worked on closes unless it is kept open. */
export function toggleLane(store: BenchStore, voiceId: string): void {
  const state = store.getState();
  if (voiceId === state.openVoiceId) {
    const keptOpen = new Set(state.keptOpen);
    keptOpen.delete(voiceId);
    store.openLane(null);
    store.setKeptOpen(keptOpen);
  } else store.openLane(voiceId);
}

/** Keeps a lane open while others are worked on, or no longer. */
export function toggleKeptOpen(store: BenchStore, voiceId: string): void {
  const keptOpen = new Set(store.getState().keptOpen);
  if (!keptOpen.delete(voiceId)) keptOpen.add(voiceId);
  store.setKeptOpen(keptOpen);
}

/** Opens every lane; again, closes all but the one that is worked on. */
export function openAll({ store }: Bench): void {
  const state = store.getState();
  const voiceIds = visibleLanes(state).map(({ voiceId }) => voiceId);
  const areOpen = voiceIds.every((voiceId) => isOpen(state, voiceId));
  store.setKeptOpen(new Set(areOpen ? [] : voiceIds));
}

import { extentOf } from "../../../core/extent.ts";
import { barAt } from "../../../core/time/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { pickedHits } from "../../../store/bench/bench-selectors.ts";
import { fitViewport, type Viewport } from "../../../store/bench/viewport.ts";
import { showTick } from "./actions.ts";

// What shows another stretch of the take. Each leaves behind what was shown, to go back to.

type Said = string | null | void;

function jumpTo({ store }: Bench, viewport: Viewport): void {
  const { viewport: before } = store.getState();
  store.setViewport(viewport);
  store.setViewBefore(before);
}

export function showStretch(bench: Bench, startTick: number, endTick: number): void {
  const { viewport, pattern } = bench.store.getState();
  jumpTo(bench, fitViewport(viewport, startTick, endTick, pattern.lengthTicks));
}

export function showEverything(bench: Bench): void {
  showStretch(bench, 0, bench.store.getState().pattern.lengthTicks);
}

export function showLoop(bench: Bench): Said {
  const { loop } = bench.store.getState();
  if (!loop) return "Loop a stretch first.";
  showStretch(bench, loop.startTick, loop.endTick);
}

/** Shows what is picked, with at least its bar around it. */
export function showPicked(bench: Bench): Said {
  const state = bench.store.getState();
  const ticks = pickedHits(state).map(({ tick }) => tick);
  if (ticks.length === 0) return "Select some hits first: click one, or drag around several.";
  const { meterMap } = state.maps;
  const [first, last] = extentOf(ticks);
  showStretch(bench, barAt(meterMap, first).startTick, barAt(meterMap, last).endTick);
}

/** Back to what was shown before the last jump, and forth again. */
export function showBefore(bench: Bench): Said {
  const { viewBefore, viewport } = bench.store.getState();
  if (!viewBefore) return "There was no other view yet.";
  jumpTo(bench, { ...viewBefore, widthPx: viewport.widthPx });
}

/** Takes the playhead to the bar line before or after it. */
export function goToBar(bench: Bench, direction: 1 | -1): void {
  const { store, playback } = bench;
  const { maps, playheadTick } = store.getState();
  const tick = playback.placeTick() ?? playheadTick;
  const bar = barAt(maps.meterMap, tick);
  const isInside = tick - bar.startTick > maps.meterMap.ppq / 4;
  const before = isInside ? bar.startTick : barAt(maps.meterMap, Math.max(0, bar.startTick - 1)).startTick;
  const target = direction === 1 ? bar.endTick : before;
  playback.seek(target);
  showTick(bench, store.getState().playheadTick);
}

/** Takes the playhead to the next marker of the take, or the one before. */
export function goToMarker(bench: Bench, direction: 1 | -1): Said {
  const { store, playback } = bench;
  const { markers, playheadTick } = store.getState();
  if (markers.length === 0) return "This take has no markers.";
  const tick = playback.placeTick() ?? playheadTick;
  const target =
    direction === 1 ? markers.find((marker) => marker.tick > tick) : markers.findLast((marker) => marker.tick < tick);
  if (!target) return direction === 1 ? "That was the last marker." : "That was the first marker.";
  playback.seek(target.tick);
  showTick(bench, target.tick);
  return `“${target.text}”`;
}

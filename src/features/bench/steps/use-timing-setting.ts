import { say } from "../../../components/messages/say.ts";
import { changeTiming, type TimingChange, withTiming } from "../../../core/commands/index.ts";
import { MOST_PUSH_MS } from "../../../core/document/treatment.ts";
import { sameSteps, tickToMs } from "../../../core/time/index.ts";
import { useBench } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { latencyOfVoice, pocketOn } from "./grid-fit.ts";

/** Shows a change of the timing while it is made, and takes it as one step when it is over. */
export function useTimingSetting(lane: LaneView) {
  const { voiceId, voice } = lane;
  const { store } = useBench();
  const editOf = (change: TimingChange) => {
    const { pattern, summaries } = store.getState();
    return changeTiming(pattern, new Set([voiceId]), (timing) => {
      const { grid } = change;
      const fits = summaries.get(voiceId)?.fits ?? [];
      // Around another grid the voice sits elsewhere.
      const pocketMs =
        grid && !sameSteps(grid, timing.grid) ? pocketOn(fits, timing, grid, latencyOfVoice(lane)) : null;
      return withTiming(timing, pocketMs === null ? change : { pocketMs, ...change });
    });
  };
  return {
    preview: (change: TimingChange) => store.preview(editOf(change)),
    commit: (name: string, change: TimingChange) => store.commit(`Change the ${name} of ${voice.name}`, editOf(change)),
    cancel: () => store.endPreview(),
    /** Says the push in the other unit, as far as it is at the tempo of the first bar. */
    swapPushUnit: (isInTicks: boolean) => {
      const { pattern, maps } = store.getState();
      const msPerTick = tickToMs(maps.tempoMap, 1);
      const pushed = pattern.lanes.find((lane) => lane.voiceId === voiceId)?.treatment.timing.pushTicks ?? 0;
      const farMs = Math.round(Math.abs(pushed) * msPerTick);
      if (!isInTicks && farMs > MOST_PUSH_MS) {
        const ticks = `${Math.abs(pushed)} ticks are ${farMs} ms at this tempo`;
        say(`${ticks}, and a push can be ${MOST_PUSH_MS} ms at most. It stays in ticks.`);
        return;
      }
      const edit = changeTiming(pattern, new Set([voiceId]), ({ pushTicks, ...timing }) =>
        isInTicks
          ? { ...timing, pushMs: 0, pushTicks: pushTicks ?? Math.round(timing.pushMs / msPerTick) }
          : { ...timing, pushMs: pushTicks === undefined ? timing.pushMs : Math.round(pushTicks * msPerTick * 2) / 2 },
      );
      store.commit(`Say the push of ${voice.name} in ${isInTicks ? "ticks" : "ms"}`, edit);
    },
  };
}

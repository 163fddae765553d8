import { toast } from "sonner";
import { changeTiming } from "../../core/commands/index.ts";
import { MOST_PUSH_MS, type TimingTreatment } from "../../core/document/treatment.ts";
import { type Grid, tickToMs } from "../../core/time/index.ts";
import { useBench } from "../../store/bench-context.ts";
import type { LaneView } from "../../store/lane-view.ts";

/** Null takes the ghosts' own grid away. */
type TimingChange = Partial<Omit<TimingTreatment, "ghostGrid">> & { readonly ghostGrid?: Grid | null };

/** What is as in the rest is left out, so that it is the same value as if it had never been set. */
function changed(before: TimingTreatment, change: TimingChange): TimingTreatment {
  const { ghostGrid, byRole, ...rest } = { ...before, ...change };
  const hasRoles = byRole !== undefined && Object.keys(byRole).length > 0;
  return { ...rest, ...(ghostGrid ? { ghostGrid } : {}), ...(hasRoles ? { byRole } : {}), isOn: true };
}

/** Shows a change of the timing while it is made, and takes it as one step when it is over. A change switches it on. */
export function useTimingSetting({ voiceId, voice }: LaneView) {
  const { store } = useBench();
  const editOf = (change: TimingChange) =>
    changeTiming(store.getState().pattern, new Set([voiceId]), (timing) => changed(timing, change));
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
        toast(`${ticks}, and a push can be ${MOST_PUSH_MS} ms at most. It stays in ticks.`, { id: "command" });
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

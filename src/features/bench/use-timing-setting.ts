import { toast } from "sonner";
import { changeTiming } from "../../core/commands/index.ts";
import { MOST_PUSH_MS, type TimingTreatment } from "../../core/document/treatment.ts";
import { type Grid, tickToMs } from "../../core/time/index.ts";
import { useBench } from "../../store/bench-context.ts";
import type { LaneView } from "../../store/lane-view.ts";

/** Null takes the ghosts' own grid away. */
type TimingChange = Partial<Omit<TimingTreatment, "ghostGrid">> & { readonly ghostGrid?: Grid | null };

/** What moves hits by itself, beside the grid. */
const BESIDE_THE_GRID: ReadonlySet<string> = new Set([
  "pushMs",
  "pushTicks",
  "pushEvery",
  "pushFrom",
  "humanizeMs",
  "humanizeShape",
  "humanizeSeed",
  "humanizeWanderPercent",
  "latencyMs",
]);
/** What only says how the grid is followed. */
const OF_THE_GRID: ReadonlySet<string> = new Set(["leaveWithinMs", "reachPercent", "pocketMs", "keepsGraceNotes"]);

/** A change does what it says and starts nothing else: a push alone pulls nothing to a grid, and a tolerance moves nothing. */
function switchedBy(before: TimingTreatment, change: TimingChange): Partial<TimingTreatment> {
  if (before.isOn) return {};
  const fields = Object.keys(change);
  if (fields.every((field) => OF_THE_GRID.has(field))) return {};
  return fields.every((field) => BESIDE_THE_GRID.has(field)) ? { isOn: true, strengthPercent: 0 } : { isOn: true };
}

/** What is as in the rest is left out, so that it is the same value as if it had never been set. */
export function changed(before: TimingTreatment, change: TimingChange): TimingTreatment {
  const { ghostGrid, byRole, ...rest } = { ...before, ...change };
  const hasRoles = byRole !== undefined && Object.keys(byRole).length > 0;
  return {
    ...rest,
    ...(ghostGrid ? { ghostGrid } : {}),
    ...(hasRoles ? { byRole } : {}),
    ...switchedBy(before, change),
  };
}

/** Shows a change of the timing while it is made, and takes it as one step when it is over. */
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

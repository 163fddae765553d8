import type { TimingTreatment } from "../document/index.ts";
import type { Grid } from "../time/index.ts";

/** Null takes the ghosts' own grid away. */
export type TimingChange = Partial<Omit<TimingTreatment, "ghostGrid">> & { readonly ghostGrid?: Grid | null };

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

function switchedBy(before: TimingTreatment, change: TimingChange): Partial<TimingTreatment> {
  if (before.isOn) return {};
  const fields = Object.keys(change);
  if (fields.every((field) => OF_THE_GRID.has(field))) return {};
  return fields.every((field) => BESIDE_THE_GRID.has(field)) ? { isOn: true, strengthPercent: 0 } : { isOn: true };
}

/**
 * A timing with some settings changed. A change does what it says and starts nothing else: a push alone pulls nothing to a grid, and a
 * tolerance moves nothing. What is as in the rest is left out, so that it is the same value as if it had never been set.
 */
export function withTiming(before: TimingTreatment, change: TimingChange): TimingTreatment {
  const { ghostGrid, byRole, ...rest } = { ...before, ...change };
  const hasRoles = byRole !== undefined && Object.keys(byRole).length > 0;
  return {
    ...rest,
    ...(ghostGrid ? { ghostGrid } : {}),
    ...(hasRoles ? { byRole } : {}),
    ...switchedBy(before, change),
  };
}

import type { Cells } from "../document/arrangement.ts";
import {
  arranging,
  type Edit,
  isEmptyEdit,
  type Pattern,
  type TimingTreatment,
  voicesOfFile,
} from "../document/index.ts";
import type { Grid } from "../time/index.ts";
import { changeTiming } from "./commands.ts";

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
]);
/** What says how the grid is followed, or what is taken off all hits alike, and needs no switch. */
const STARTS_NOTHING: ReadonlySet<string> = new Set([
  "leaveWithinMs",
  "reachPercent",
  "pocketMs",
  "keepsGraceNotes",
  "latencyMs",
]);

function switchedBy(before: TimingTreatment, change: TimingChange): Partial<TimingTreatment> {
  if (before.isOn) return {};
  const fields = Object.keys(change).filter((field) => !STARTS_NOTHING.has(field));
  if (fields.length === 0) return {};
  return fields.every((field) => BESIDE_THE_GRID.has(field)) ? { isOn: true, strengthPercent: 0 } : { isOn: true };
}

/**
 * A timing with some settings changed. A change does what it says and starts nothing else: a push alone pulls nothing to a grid, and a
 * tolerance moves nothing; latency is taken off whether hits are quantized or not. What is as in the rest is left out, so that it is the same value as if it had never been set.
 */
export function withTiming(before: TimingTreatment, change: TimingChange): TimingTreatment {
  const { ghostGrid, byRole, latencyStays, ...rest } = { ...before, ...change };
  const isLatencySet = latencyStays || change.latencyMs !== undefined;
  const hasRoles = byRole !== undefined && Object.keys(byRole).length > 0;
  return {
    ...rest,
    ...(ghostGrid ? { ghostGrid } : {}),
    ...(hasRoles ? { byRole } : {}),
    ...(isLatencySet && rest.latencyMs !== 0 ? { latencyStays: true as const } : {}),
    ...switchedBy(before, change),
  };
}

/**
 * So much is taken off as what the whole take came in late by; what is left of the voice's lag is its pocket.
 * @param isLate whether the file has hits of the voice; if not, its habit is as it was
 */
export function withLatency(timing: TimingTreatment, latencyMs: number, isLate = true): TimingTreatment {
  const lag = timing.pocketMs + timing.latencyMs;
  const pocketMs = isLate ? Math.round((lag - latencyMs) * 10) / 10 : timing.pocketMs;
  return withTiming(timing, { latencyMs, pocketMs });
}

/** Switches quantizing on or off. What the whole take came in late by stays taken off: the other voices are on time, too. */
export function withQuantize(timing: TimingTreatment, isOn: boolean): TimingTreatment {
  return { ...withTiming(timing, { latencyMs: timing.latencyMs }), isOn };
}

/** Takes off every voice what the whole take came in late by, also where a pattern of the song quantizes it otherwise. */
export function takeOffLatency(pattern: Pattern, latencyMs: number): Edit {
  const voiceIds = new Set(pattern.lanes.map(({ voiceId }) => voiceId));
  const late = voicesOfFile(pattern);
  const onTime = (timing: TimingTreatment, voiceId: string) => withLatency(timing, latencyMs, late.has(voiceId));
  const edit = changeTiming(pattern, voiceIds, onTime);
  const { arrangement } = pattern;
  if (!arrangement) return edit;
  const patterns = arrangement.patterns.map(({ cells, ...one }) =>
    cells ? { ...one, cells: withTimings(cells, onTime) } : one,
  );
  const arrange: Edit = { kind: "arrange", ...arranging(arrangement, { ...arrangement, patterns }) };
  return isEmptyEdit(arrange) ? edit : { kind: "together", edits: [edit, arrange] };
}

function withTimings(cells: Cells, change: (timing: TimingTreatment, voiceId: string) => TimingTreatment): Cells {
  const all = Object.entries(cells).map(([voiceId, { timing, ...cell }]) => [
    voiceId,
    timing ? { ...cell, timing: change(timing, voiceId) } : cell,
  ]);
  return Object.fromEntries(all);
}

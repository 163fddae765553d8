import type { ExceptionalSettings, TimingException, TimingTreatment } from "../document/treatment.ts";
import { withoutTicks } from "../time/index.ts";

/** Nothing is pulled, pushed or left to chance. */
export const AS_RECORDED: ExceptionalSettings = { strengthPercent: 0, pushMs: 0, humanizeMs: 0 };

/**
 * Lays other settings over a stretch, in place of exceptions that were made there; null takes them away.
 * @returns exceptions in order and apart
 */
export function withException<Settings extends object>(
  exceptions: readonly (Settings & Stretch)[],
  startTick: number,
  endTick: number,
  settings: Settings | null,
): readonly (Settings & Stretch)[] {
  const cut = withoutTicks(exceptions, startTick, endTick);
  const laid = settings === null || endTick <= startTick ? cut : [...cut, { ...settings, startTick, endTick }];
  return laid.toSorted((a, b) => a.startTick - b.startTick);
}

interface Stretch {
  readonly startTick: number;
  readonly endTick: number;
}

/** Leaves a voice as it was recorded everywhere but in one stretch: "only bar 5". */
export function onlyWithin(startTick: number, endTick: number, lengthTicks: number): readonly TimingException[] {
  const before = withException<ExceptionalSettings>([], 0, startTick, AS_RECORDED);
  return withException(before, endTick, lengthTicks, AS_RECORDED);
}

/**
 * The settings that hold for each hit. Without exceptions they are the same for all, and nothing is looked up.
 * @param slotTicks where each hit belongs: one just ahead of a bar line was played for the bar that follows
 */
export function settingsByRow(timing: TimingTreatment, slotTicks: Float64Array): (row: number) => TimingTreatment {
  const { exceptions = [] } = timing;
  if (exceptions.length === 0) return () => timing;
  const { byRole: _byRole, ...alike } = timing;
  const settings = exceptions.map(({ startTick: _start, endTick: _end, ...other }): TimingTreatment => {
    // A strength that was set for a stretch is meant for all of it.
    return other.strengthPercent === undefined ? { ...timing, ...other } : { ...alike, ...other };
  });
  const rows = new Int32Array(slotTicks.length).fill(-1);
  for (let row = 0; row < slotTicks.length; row++) {
    const tick = slotTicks[row]!;
    rows[row] = exceptions.findIndex(({ startTick, endTick }) => tick >= startTick && tick < endTick);
  }
  return (row) => settings[rows[row]!] ?? timing;
}

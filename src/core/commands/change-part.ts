import {
  DYNAMICS_LIMITS,
  type Edit,
  type Pattern,
  TIMING_LIMITS,
  type Treatment,
  USUAL_DYNAMICS,
} from "../document/index.ts";
import type { Limit } from "../limit.ts";
import { STRAIGHT_PERCENT, withSwing } from "../time/index.ts";
import { changeTreatments } from "./commands.ts";
import { withTiming } from "./timing-setting.ts";

/** What can be changed for many voices at once, each from what it has. */
export const PART_FIELDS = [
  "strengthPercent",
  "swingPercent",
  "pushMs",
  "humanizeMs",
  "rangePercent",
  "loudnessPercent",
] as const;
export type PartField = (typeof PART_FIELDS)[number];

export const PART_LIMITS: Readonly<Record<PartField, Limit>> = {
  strengthPercent: TIMING_LIMITS.strengthPercent,
  swingPercent: TIMING_LIMITS.swingPercent,
  pushMs: TIMING_LIMITS.pushMs,
  humanizeMs: TIMING_LIMITS.humanizeMs,
  rangePercent: DYNAMICS_LIMITS.rangePercent,
  loudnessPercent: DYNAMICS_LIMITS.loudnessPercent,
};

/**
 * Changes one setting of several voices by the same amount, so that what they differ in stays. A voice that is not quantized has no
 * strength and no swing to change; a push or a humanize that it gets pulls it to no grid.
 * @param by in the unit of the field; each voice stops at the limits
 */
export function changePartBy(pattern: Pattern, voiceIds: ReadonlySet<string>, field: PartField, by: number): Edit {
  const { min, max } = PART_LIMITS[field];
  const moved = (value: number) => Math.max(min, Math.min(max, Math.round((value + by) * 10) / 10));
  return changeTreatments(pattern, voiceIds, (treatment): Treatment => {
    if (by === 0) return treatment;
    const { timing } = treatment;
    switch (field) {
      case "strengthPercent":
        return timing.isOn
          ? { ...treatment, timing: { ...timing, strengthPercent: moved(timing.strengthPercent) } }
          : treatment;
      case "swingPercent": {
        if (!timing.isOn) return treatment;
        const grid = withSwing(timing.grid, moved(timing.grid.swingPercent ?? STRAIGHT_PERCENT));
        return { ...treatment, timing: { ...timing, grid } };
      }
      case "pushMs":
      case "humanizeMs":
        return { ...treatment, timing: withTiming(timing, { [field]: moved(timing[field]) }) };
      case "rangePercent":
      case "loudnessPercent": {
        const dynamics = treatment.dynamics?.isOn
          ? treatment.dynamics
          : { ...USUAL_DYNAMICS, ...treatment.dynamics, isOn: true };
        return { ...treatment, dynamics: { ...dynamics, [field]: Math.round(moved(dynamics[field])) } };
      }
      default:
        return field satisfies never;
    }
  });
}

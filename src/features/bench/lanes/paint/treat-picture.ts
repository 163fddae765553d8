import { columnsOf, STEPS } from "../../../../core/document/index.ts";
import type { Treatment } from "../../../../core/document/treatment.ts";
import { bordersOf, rolesOf } from "../../../../core/dynamics/index.ts";
import { handGridAt, type TimeMaps } from "../../../../core/time/index.ts";
import { treat } from "../../../../core/treat.ts";
import type { LanePicture, LaneSource } from "./picture.ts";

/**
 * A lane as it is with other settings, while one of them is dragged. What is worth a look is marked as before: it is asked for
 * again when the lane itself is treated.
 */
export function treatedPicture(
  before: LanePicture,
  { hits, family, lengthTicks }: LaneSource,
  treatment: Treatment,
  maps: TimeMaps,
): LanePicture {
  if (!before.isCleaned) return before;
  const { ticks, velocities, slotTicks } = treat(hits, treatment, maps, lengthTicks, family);
  const { timing, roles: borders } = treatment;
  return {
    ...before,
    ticks,
    velocities,
    cleanedTicks: ticks,
    slotTicks,
    roles: rolesOf(columnsOf(hits), maps.meterMap, borders),
    roleBorders: bordersOf(columnsOf(hits), maps.meterMap, borders),
    isTreated: STEPS.timing.isOn(treatment),
    handGrid: handGridAt({ ...timing, stretches: [] }, 0),
    stretches: timing.stretches,
  };
}

import type { Family } from "../notemap/index.ts";
import { placeInBar } from "../sift/places.ts";
import { gridStepTicks, type MeterMap } from "../time/index.ts";
import type { TimingTreatment } from "../treatment.ts";
import { type Groove, layerFor } from "./groove.ts";

/** Where a groove wants the hits of a lane, and how loud. Row i is hit i. */
export interface LaidGroove {
  /** Where each hit would be if the groove had it; its slot where the groove has no place for it. */
  readonly targetTicks: Float64Array;
  /** In proportion; 1 where the groove has no place for it. */
  readonly accents: Float64Array;
}

/** A hit that is farther than this from a place of the groove, in its steps, is between two of them. */
const ON_PLACE = 0.02;

/**
 * Lays a groove on the slots of a lane: by where they are in the bar, without their swing, over and over from each bar line, so that
 * another meter begins anew with its bar. A slot between two places of the groove takes what lies between.
 * @param slotTicks where each hit belongs
 */
export function layGroove(
  groove: Groove,
  family: Family,
  slotTicks: Float64Array,
  plan: Pick<TimingTreatment, "grid" | "stretches" | "ghostGrid">,
  meterMap: MeterMap,
): LaidGroove {
  const targetTicks = slotTicks.slice();
  const accents = new Float64Array(slotTicks.length).fill(1);
  const layer = layerFor(groove, family);
  if (!layer) return { targetTicks, accents };
  const { slots } = layer;
  const stepTicks = gridStepTicks(groove.grid, meterMap.ppq);
  const lengthTicks = groove.lengthQuarters * meterMap.ppq;
  for (let row = 0; row < slotTicks.length; row++) {
    const { bar, inBarTicks } = placeInBar(slotTicks[row]!, plan, meterMap);
    const barTicks = bar.endTick - bar.startTick;
    const barInGroove = lengthTicks > barTicks ? (bar.barIndex * barTicks) % lengthTicks : 0;
    const place = ((barInGroove + inBarTicks) % lengthTicks) / stepTicks;
    const [before, share] = [Math.floor(place + ON_PLACE), place - Math.floor(place + ON_PLACE)];
    const here = slots[before % slots.length]!;
    const next = slots[(before + 1) % slots.length]!;
    const between = share > ON_PLACE ? share : 0;
    const offset = here.offset + between * (next.offset - here.offset);
    targetTicks[row] = bar.startTick + inBarTicks + offset * stepTicks;
    // Between two places nothing is known of loudness.
    accents[row] = between > 0 ? 1 : here.accent;
  }
  return { targetTicks, accents };
}

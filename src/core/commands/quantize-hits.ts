import { type Edit, type HitMove, type Pattern, pinsIn } from "../document/index.ts";
import { type Grid, SlotFinder, type TimeMaps } from "../time/index.ts";
import type { PlacedHit } from "./commands.ts";

/** How some hits are quantized by hand: once, and not as a standing setting of their lane. */
export interface QuantizeWish {
  /** 0 leaves a hit where it is, 100 lands it on its slot. */
  readonly strengthPercent: number;
  /** The grid of a hit, with its swing: one for all, or that of the lane that each is in. */
  readonly gridOf: (voiceId: string) => Grid;
}

/**
 * Pins hits nearer to the slots of a grid, from where they sound now. Done again, what is left of the way is halved again, as a hand
 * would; nothing leaves the pattern.
 * @param placed with the ticks at which they sound now
 */
export function quantizeHits(
  pattern: Pattern,
  placed: readonly PlacedHit[],
  { strengthPercent, gridOf }: QuantizeWish,
  { meterMap }: TimeMaps,
): Edit {
  const pinOf = pinsIn(pattern);
  const finders = new Map<string, SlotFinder>();
  const finderOf = (voiceId: string) => {
    const known = finders.get(voiceId) ?? new SlotFinder(gridOf(voiceId), meterMap);
    finders.set(voiceId, known);
    return known;
  };
  const moves = placed.map(({ hit, tick }): HitMove => {
    const { slotTick } = finderOf(hit.voiceId).find(tick);
    const wanted = Math.round(tick + (slotTick - tick) * (strengthPercent / 100));
    const toTick = pinOf(hit, Math.max(0, Math.min(pattern.lengthTicks - 1, wanted)));
    return { hitId: hit.id, fromTick: hit.pinnedTick, toTick };
  });
  return { kind: "moveHits", moves };
}

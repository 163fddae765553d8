import type { Fullness, HitChance } from "./document/chance.ts";
import { noiseOf } from "./humanize.ts";

/** Another noise than that of time and loudness, or early hits would be those that are left out. */
const SALT = 104_729;

/**
 * Whether a hit that is not played always is played this time. It depends on the hit, the seed and the time alone, so that hearing,
 * export and another machine agree.
 * @param hitId whatever the hit is called
 * @param turn which time it comes round, any whole number
 */
export function isPlayed(
  hitId: string,
  { chancePercent, fromPercent, toPercent }: HitChance,
  { percent, seed }: Fullness,
  turn: number,
): boolean {
  if (percent < fromPercent || percent > toPercent) return false;
  if (chancePercent >= 100) return true;
  const share = (noiseOf(`${turn} ${hitId}`, seed + SALT, "even") + 1) / 2;
  return share < chancePercent / 100;
}

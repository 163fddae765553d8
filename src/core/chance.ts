import type { Fullness } from "./document/chance.ts";
import type { Hit } from "./document/pattern.ts";
import { noiseOf } from "./humanize.ts";

/** Another noise than that of time and loudness, or early hits would be those that are left out. */
const SALT = 104_729;

/**
 * Whether a hit plays this time: always, unless it has a chance. That depends on the hit, the seed and the time alone, so that hearing,
 * export and another machine agree.
 * @param turn which time its part comes round, from 0
 * @param again tells apart where one time plays it more than once; any whole number, 0 for the first
 */
export function playsThisTime(
  { id, chance }: Pick<Hit, "id" | "chance">,
  { percent, seed }: Fullness,
  turn: number,
  again = 0,
): boolean {
  if (!chance) return true;
  const { chancePercent, fromPercent, toPercent } = chance;
  if (percent < fromPercent || percent > toPercent) return false;
  if (chancePercent >= 100) return true;
  const share = (noiseOf(`${turn} ${again} ${id}`, seed + SALT, "even") + 1) / 2;
  return share < chancePercent / 100;
}

import { buildTimeMaps, tickAfterMs } from "../time/index.ts";
import type { Hit, Pattern } from "./pattern.ts";

/**
 * Where a hit is to be pinned so that it sounds at a tick: what a hand has set it off by comes on top of its pin.
 * @returns whole ticks, from 0 on, for whole ticks
 */
export function pinsIn(pattern: Pick<Pattern, "ppq" | "meters" | "tempos">): (hit: Hit, tick: number) => number {
  let maps: ReturnType<typeof buildTimeMaps> | null = null;
  return ({ offsetMs = 0 }, tick) => {
    if (offsetMs === 0) return tick;
    maps ??= buildTimeMaps(pattern);
    return Math.max(0, Math.round(tickAfterMs(maps.tempoMap, tick, -offsetMs)));
  };
}

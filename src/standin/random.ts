/** A repeatable source of numbers: the same seed gives the same performance. */
export interface Random {
  /** 0 up to, not including, 1. */
  uniform(): number;
  /** Bell-shaped around 0. */
  bell(spread: number): number;
  chance(probability: number): boolean;
}

/** @source mulberry32, a 32-bit generator with a full period; bell-shaped numbers by the Box-Muller transform */
export function createRandom(seed: number): Random {
  let state = seed >>> 0;
  const uniform = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
  return {
    uniform,
    bell: (spread) => spread * Math.sqrt(-2 * Math.log(1 - uniform())) * Math.cos(2 * Math.PI * uniform()),
    chance: (probability) => uniform() < probability,
  };
}

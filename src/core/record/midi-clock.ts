/** How often a device tells how fast it goes. @source MIDI 1.0, timing clock */
export const PULSES_PER_QUARTER = 24;

/** The tempo that pulses of a clock tell, in quarters a minute; null before a quarter has gone by. @param pulsesMs ascending */
export function tempoOfPulses(pulsesMs: readonly number[]): number | null {
  const recent = pulsesMs.slice(-2 * PULSES_PER_QUARTER - 1);
  const [first, last] = [recent[0], recent.at(-1)];
  if (first === undefined || last === undefined || recent.length <= PULSES_PER_QUARTER || last <= first) return null;
  return (60_000 * (recent.length - 1)) / (PULSES_PER_QUARTER * (last - first));
}

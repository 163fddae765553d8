/** Loudness against velocity: a ghost note at 32 is about 18 dB below a full stroke. */
export function gainOf(velocity: number): number {
  return (velocity / 127) ** 1.5;
}

/** Farther than this two parts are not of one performance, and are left as loud as they are. */
const MOST_GAIN = 4;

/** The gain that makes hits as loud, in energy, as others. 1 if either is silent. @param of velocities, in any number of columns */
export function matchingGain(of: readonly Uint8Array[], like: readonly Uint8Array[]): number {
  const [own, wanted] = [meanEnergy(of), meanEnergy(like)];
  if (own === 0 || wanted === 0) return 1;
  return Math.max(1 / MOST_GAIN, Math.min(MOST_GAIN, Math.sqrt(wanted / own)));
}

function meanEnergy(columns: readonly Uint8Array[]): number {
  let sum = 0;
  let count = 0;
  for (const velocities of columns) {
    for (const velocity of velocities) sum += gainOf(velocity) ** 2;
    count += velocities.length;
  }
  return count === 0 ? 0 : sum / count;
}

/** @source a factor of 10 in amplitude is 20 dB */
export function gainOfDb(dB: number): number {
  return 10 ** (dB / 20);
}

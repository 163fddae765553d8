import type { SoundId } from "../sound-bank.ts";

/** How far the hats are apart, by where their pedal is (0 open, 127 pressed): up to each place one sound. */
const DEGREES: readonly (readonly [pedal: number, sound: SoundId])[] = [
  [20, "hat/open"],
  [45, "hat/nearly-open"],
  [75, "hat/half-open"],
  [127, "hat/loose"],
];

/** Hats that ring until they are shut. */
export const RINGING_HATS: readonly SoundId[] = DEGREES.map(([, sound]) => sound);

/** The sound of a stroke: open hats sound as far apart as their pedal says. @param pedal undefined where nothing is known of it */
export function soundAt(sound: SoundId, pedal: number | undefined): SoundId {
  if (pedal === undefined || !RINGING_HATS.includes(sound)) return sound;
  return DEGREES.find(([place]) => pedal <= place)?.[1] ?? sound;
}

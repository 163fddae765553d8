import { SAMPLE_RATE, type SoundId, toBuffer } from "../../audio/index.ts";
import { type Helper, startKit } from "../../workers/index.ts";
import type { Kit } from "../../workers/kit.worker.ts";

/** What this page has made of the stand-in kit: every screen and player takes it from here, so that each sound is made once. */
const made = new Map<SoundId, Promise<readonly AudioBuffer[]>>();
let kit: Helper<Kit> | null = null;

/** A sound of the kit, with all its layers and takes, softest first. */
export function kitSound(sound: SoundId): Promise<readonly AudioBuffer[]> {
  const known = made.get(sound);
  if (known) return known;
  kit ??= startKit();
  const making = kit.run((functions) => functions.render(sound, SAMPLE_RATE)).then((samples) => samples.map(toBuffer));
  made.set(sound, making);
  return making;
}

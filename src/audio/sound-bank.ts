import { CLICK_RECIPES } from "./kit/recipes.ts";
import { layerOf, ROUND_ROBINS, renderLayers } from "./kit/render-sound.ts";

/** `voice/articulation`. */
export type SoundId = `${string}/${string}`;

/** Gives all layers and takes of a sound, softest first, once they are made: cymbals take a while. */
export type SoundMaker = (sound: SoundId) => Promise<readonly AudioBuffer[]>;

/** Fixed, so that sounds can be made before the audio clock may run. */
export const SAMPLE_RATE = 44_100;

/** The sounds that are made so far. A sound that is still being made is silent and nothing waits for it. */
export class SoundBank {
  readonly #buffers = new Map<SoundId, readonly AudioBuffer[]>();
  readonly #asked = new Set<SoundId>();
  #turn = 0;

  constructor() {
    for (const [kind, recipe] of Object.entries(CLICK_RECIPES)) {
      const samples = renderLayers(recipe, 0, SAMPLE_RATE)[2]!;
      this.#buffers.set(`click/${kind}`, [toBuffer(samples)]);
    }
  }

  /** Makes the sounds that are not there yet, one after the other. */
  async prepare(sounds: Iterable<SoundId>, make: SoundMaker): Promise<void> {
    for (const sound of sounds) {
      if (this.#asked.has(sound)) continue;
      this.#asked.add(sound);
      this.#buffers.set(sound, await make(sound));
    }
  }

  /** The sample for a velocity (1 to 127); takes of one layer follow each other in turn. */
  pick(sound: SoundId, velocity: number): AudioBuffer | undefined {
    const takes = this.#buffers.get(sound);
    if (!takes || takes.length === 1) return takes?.[0];
    return takes[layerOf(velocity) * ROUND_ROBINS + (this.#turn++ % ROUND_ROBINS)];
  }
}

export function toBuffer(samples: Float32Array): AudioBuffer {
  const buffer = new AudioBuffer({ length: Math.max(1, samples.length), sampleRate: SAMPLE_RATE });
  buffer.copyToChannel(samples as Float32Array<ArrayBuffer>, 0);
  return buffer;
}

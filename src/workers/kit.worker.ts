import { expose, transfer } from "comlink";
import { LAYERS, RECIPES, ROUND_ROBINS, renderSound, type SoundId, UNNAMED_RECIPE } from "../audio/index.ts";

const kit = {
  /** All layers of a sound, each with its takes, softest first. */
  render(sound: SoundId, sampleRate: number): readonly Float32Array[] {
    const recipe = RECIPES[sound] ?? UNNAMED_RECIPE;
    const samples = Array.from({ length: LAYERS * ROUND_ROBINS }, (_, index) =>
      renderSound(recipe, Math.floor(index / ROUND_ROBINS), index % ROUND_ROBINS, sampleRate),
    );
    return transfer(
      samples,
      samples.map((one) => one.buffer),
    );
  },
};

export type Kit = typeof kit;
expose(kit);

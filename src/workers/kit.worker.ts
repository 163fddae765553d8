import { expose, transfer } from "comlink";
import { LAYERS, RECIPES, ROUND_ROBINS, renderLayers, type SoundId, UNNAMED_RECIPE } from "../audio/index.ts";

const kit = {
  /** All layers of a sound, each with its takes, softest first. */
  render(sound: SoundId, sampleRate: number): readonly Float32Array[] {
    const recipe = RECIPES[sound] ?? UNNAMED_RECIPE;
    const takes = Array.from({ length: ROUND_ROBINS }, (_, take) => renderLayers(recipe, take, sampleRate));
    const samples = Array.from({ length: LAYERS }, (_, layer) => takes.map((layers) => layers[layer]!)).flat();
    return transfer(
      samples,
      samples.map((one) => one.buffer),
    );
  },
};

export type Kit = typeof kit;
expose(kit);

/** Where the stand-in kit changes its sound, and which of its layers a velocity triggers, 0 the softest. */
export { LAYER_BORDERS, LAYERS, layerOf } from "../audio/index.ts";

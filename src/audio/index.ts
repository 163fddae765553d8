export { Engine, type Mix } from "./engine.ts";
export { RECIPES, type Recipe, UNNAMED_RECIPE } from "./kit/recipes.ts";
export { LAYER_BORDERS, LAYERS, layerOf, ROUND_ROBINS, renderSound } from "./kit/render-sound.ts";
export { soundLike } from "./kit/sound-like.ts";
export { gainOf, gainOfDb, matchingGain } from "./loudness.ts";
export { MidiClock } from "./midi-clock.ts";
export { MidiOut, type MidiPort, type OutNote } from "./midi-out.ts";
export { SAMPLE_RATE, SoundBank, type SoundId, type SoundMaker, toBuffer } from "./sound-bank.ts";
export { type EventSource, type Loop, type PlannedEvent, type SoundEvent, Transport } from "./transport.ts";

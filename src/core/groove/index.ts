export { GROOVES } from "./built-in.ts";
export { type FoundGroove, grooveOfPattern, grooveToMidi } from "./exchange.ts";
export { feelOf, grooveWords, type LayerFeel } from "./groove-words.ts";
export { type LaidGroove, layGroove } from "./lay-on.ts";
export { type GrooveNumbers, makeLayer, mixGrooves, PLAIN_NUMBERS } from "./make-groove.ts";
export { neutralPart, withFeel } from "./neutral-part.ts";
export { type GrooveWish, takeGroove } from "./take-groove.ts";

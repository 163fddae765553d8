import type { Mode, Noise, Recipe } from "./recipes.ts";

/** Velocity layers of every sound, and how many takes of each there are, so that repeated strokes differ. */
export const LAYERS = 4;
export const ROUND_ROBINS = 4;
/** The highest velocity of each layer but the last. */
export const LAYER_BORDERS = [45, 76, 104];

/** The velocity layer, 0 the softest, that a hit of this velocity (1 to 127) sounds with. */
export function layerOf(velocity: number): number {
  const layer = LAYER_BORDERS.findIndex((border) => velocity <= border);
  return layer === -1 ? LAYERS - 1 : layer;
}

/** What is below this share of the peak is left out: 50 dB. */
const SILENCE = 0.003;
const LONGEST_S = 4;
const USUAL_SOFT_SHARE = 0.45;
/** The softest stroke has so much of the upper modes of a drum: it is darker, and not only softer. */
const SOFT_UPPER_MODES = 0.4;

/**
 * Renders one stroke of the stand-in kit. A harder layer is brighter, noisier and falls from a higher pitch.
 * @param layer 0 to `LAYERS` − 1
 * @param take 0 to `ROUND_ROBINS` − 1: another detuning and another noise
 * @returns mono samples whose peak is the recipe's level
 */
export function renderSound(recipe: Recipe, layer: number, take: number, sampleRate: number): Float32Array {
  const hardness = layer / (LAYERS - 1);
  const random = createNoise(0x5eed + take * 7919 + layer * 104_729);
  const modes = [...bodyModes(recipe, hardness), ...metalModes(recipe, hardness)];
  const longestDecayS = Math.max(
    ...modes.map(([, , decayS]) => decayS),
    recipe.noise ? recipe.noise.decayS + (recipe.noise.bursts?.at(-1) ?? 0) + (recipe.noise.attackS ?? 0) : 0,
  );
  const length = Math.ceil(Math.min(LONGEST_S, longestDecayS * Math.log(1 / SILENCE)) * sampleRate);
  const samples = new Float32Array(length);
  const detune = 1 + (take - (ROUND_ROBINS - 1) / 2) * 0.006;
  for (const mode of modes) addMode(samples, mode, recipe.sweep, hardness, detune, sampleRate);
  if (recipe.noise) addNoise(samples, recipe.noise, hardness, random, sampleRate);
  shapeEdges(samples, sampleRate);
  scaleToPeak(samples, recipe.level);
  return samples;
}

/** The modes of a drum's body; of a soft stroke the upper ones are weaker. */
function bodyModes({ modes, softBody = 1 }: Recipe, hardness: number): readonly Mode[] {
  const body = softBody + (1 - softBody) * hardness;
  const upper = SOFT_UPPER_MODES + (1 - SOFT_UPPER_MODES) * hardness;
  return modes.map(([frequencyHz, gain, decayS], index) => [
    frequencyHz,
    gain * body * (index === 0 ? 1 : upper),
    decayS,
  ]);
}

function metalModes({ metal }: Recipe, hardness: number): readonly Mode[] {
  if (!metal) return [];
  // Spread by the golden section, so that no two ratios are simple and the plate has no pitch.
  return Array.from({ length: metal.count }, (_, index): Mode => {
    const place = (index * 0.618034) % 1;
    const frequencyHz = metal.lowHz * (metal.highHz / metal.lowHz) ** place;
    const brightness = place > 0.5 ? 0.35 + 0.65 * hardness : 1;
    return [frequencyHz, (metal.gain * brightness) / Math.sqrt(metal.count), metal.decayS * (1.1 - 0.6 * place)];
  });
}

function addMode(
  samples: Float32Array,
  [frequencyHz, gain, decayS]: Mode,
  sweep: Recipe["sweep"],
  hardness: number,
  detune: number,
  sampleRate: number,
): void {
  if (!sweep) {
    addSteadyMode(samples, frequencyHz * detune, gain, decayS, sampleRate);
    return;
  }
  const excess = (sweep.ratio - 1) * (0.55 + 0.45 * hardness);
  const sweepDecay = Math.exp(-1 / (sweep.timeS * sampleRate));
  const decay = Math.exp(-1 / (decayS * sampleRate));
  let bend = excess;
  let amplitude = gain;
  let phase = frequencyHz % 1; // any fixed phase, not the same for all
  for (let index = 0; index < samples.length && amplitude > SILENCE * gain; index++) {
    samples[index]! += amplitude * Math.sin(phase);
    phase += (2 * Math.PI * frequencyHz * detune * (1 + bend)) / sampleRate;
    bend *= sweepDecay;
    amplitude *= decay;
  }
}

/**
 * A mode of steady pitch as a two-pole resonator: two multiplications a sample. Cymbals have 42 such modes of seconds
 * each, and sines made opening a project wait for them.
 * @source y[n] = 2 r cos(w) y[n−1] − r² y[n−2]
 */
function addSteadyMode(
  samples: Float32Array,
  frequencyHz: number,
  gain: number,
  decayS: number,
  sampleRate: number,
): void {
  const turn = (2 * Math.PI * frequencyHz) / sampleRate;
  const decay = Math.exp(-1 / (decayS * sampleRate));
  const phase = frequencyHz % 1;
  const recall = 2 * decay * Math.cos(turn);
  const forget = -decay * decay;
  let before = (gain * Math.sin(phase - turn)) / decay;
  let now = gain * Math.sin(phase);
  const length = Math.min(samples.length, Math.ceil(decayS * Math.log(1 / SILENCE) * sampleRate));
  for (let index = 0; index < length; index++) {
    samples[index]! += now;
    const next = recall * now + forget * before;
    before = now;
    now = next;
  }
}

function addNoise(
  samples: Float32Array,
  { gain, decayS, lowHz, highHz, bursts = [0], attackS = 0, softShare = USUAL_SOFT_SHARE }: Noise,
  hardness: number,
  random: () => number,
  sampleRate: number,
): void {
  const loudness = gain * (softShare + (1 - softShare) * hardness);
  const cutHz = Math.min(sampleRate * 0.45, highHz * (0.55 + 0.45 * hardness));
  const lowPass = createLowPass(cutHz, sampleRate);
  const alsoLowPass = createLowPass(cutHz, sampleRate);
  const belowBand = createLowPass(lowHz, sampleRate);
  let amplitude = 0;
  let nextBurst = 0;
  const decay = Math.exp(-1 / (decayS * sampleRate));
  const attackSamples = attackS * sampleRate;
  for (let index = 0; index < samples.length; index++) {
    if (nextBurst < bursts.length && index >= bursts[nextBurst]! * sampleRate) {
      amplitude = loudness;
      nextBurst++;
    }
    const white = alsoLowPass(lowPass(random()));
    const swell = index < attackSamples ? index / attackSamples : 1;
    samples[index]! += amplitude * swell * (white - belowBand(white));
    if (index >= attackSamples) amplitude *= decay;
  }
}

/** One-pole low-pass. */
function createLowPass(cutHz: number, sampleRate: number): (input: number) => number {
  const keep = Math.exp((-2 * Math.PI * cutHz) / sampleRate);
  let output = 0;
  return (input) => {
    output = input + keep * (output - input);
    return output;
  };
}

/** A repeatable noise between −1 and 1: the kit must sound the same on every machine. @source xorshift32 */
function createNoise(seed: number): () => number {
  let state = seed | 0;
  return () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return state / 0x80000000;
  };
}

/** A step at either end of a sound would be heard as a click. */
function shapeEdges(samples: Float32Array, sampleRate: number): void {
  const start = Math.min(samples.length, Math.round(sampleRate * 0.0006));
  for (let index = 0; index < start; index++) samples[index]! *= index / start;
  const end = Math.min(samples.length, Math.round(sampleRate * 0.005));
  for (let index = 0; index < end; index++) samples[samples.length - 1 - index]! *= index / end;
}

function scaleToPeak(samples: Float32Array, level: number): void {
  let peak = 0;
  for (const sample of samples) peak = Math.max(peak, Math.abs(sample));
  if (peak === 0) return;
  for (let index = 0; index < samples.length; index++) samples[index]! *= level / peak;
}

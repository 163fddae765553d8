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
  const modes = [...bodyModes(recipe, hardness), ...metalModes(recipe, hardness)];
  const longestDecayS = Math.max(
    ...modes.map(([, , decayS]) => decayS),
    recipe.noise ? recipe.noise.decayS + (recipe.noise.bursts?.at(-1) ?? 0) + (recipe.noise.attackS ?? 0) : 0,
  );
  const length = Math.ceil(Math.min(LONGEST_S, longestDecayS * Math.log(1 / SILENCE)) * sampleRate);
  const samples = new Float32Array(length);
  const detune = 1 + (take - (ROUND_ROBINS - 1) / 2) * 0.006;
  if (recipe.sweep) {
    for (const mode of modes) addSweptMode(samples, mode, recipe.sweep, hardness, detune, sampleRate);
  } else addSteadyModes(samples, modes, detune, sampleRate);
  if (recipe.noise) addNoise(samples, recipe.noise, hardness, 0x5eed + take * 7919 + layer * 104_729, sampleRate);
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

function addSweptMode(
  samples: Float32Array,
  [frequencyHz, gain, decayS]: Mode,
  sweep: NonNullable<Recipe["sweep"]>,
  hardness: number,
  detune: number,
  sampleRate: number,
): void {
  const excess = (sweep.ratio - 1) * (0.55 + 0.45 * hardness);
  const sweepDecay = Math.exp(-1 / (sweep.timeS * sampleRate));
  const decay = Math.exp(-1 / (decayS * sampleRate));
  let bend = excess;
  let amplitude = gain;
  let phase = phaseOf(frequencyHz);
  for (let index = 0; index < samples.length && amplitude > SILENCE * gain; index++) {
    samples[index]! += amplitude * Math.sin(phase);
    phase += (2 * Math.PI * frequencyHz * detune * (1 + bend)) / sampleRate;
    bend *= sweepDecay;
    amplitude *= decay;
  }
}

/** Where a mode begins, in radians: any fixed phase, not the same for all. */
const phaseOf = (frequencyHz: number) => frequencyHz % 1;

/** A mode of steady pitch as a two-pole resonator. @source y[n] = 2 r cos(w) y[n−1] − r² y[n−2] */
interface Resonator {
  readonly recall: number;
  readonly forget: number;
  /** y[−1] and y[0]. */
  readonly before: number;
  readonly now: number;
  /** In samples, until it is silent. */
  readonly length: number;
}
const SILENT: Resonator = { recall: 0, forget: 0, before: 0, now: 0, length: 0 };

function resonatorOf([frequencyHz, gain, decayS]: Mode, detune: number, sampleRate: number): Resonator {
  const turn = (2 * Math.PI * frequencyHz * detune) / sampleRate;
  const decay = Math.exp(-1 / (decayS * sampleRate));
  const phase = phaseOf(frequencyHz * detune);
  return {
    recall: 2 * decay * Math.cos(turn),
    forget: -decay * decay,
    before: (gain * Math.sin(phase - turn)) / decay,
    now: gain * Math.sin(phase),
    length: Math.ceil(decayS * Math.log(1 / SILENCE) * sampleRate),
  };
}

/**
 * Cymbals have 42 such modes of seconds each, and sines made opening a project wait for them. A resonator waits for its own last value:
 * four side by side, the longest first so that they end together, keep a processor busy.
 */
function addSteadyModes(samples: Float32Array, modes: readonly Mode[], detune: number, sampleRate: number): void {
  const resonators = modes.map((mode) => resonatorOf(mode, detune, sampleRate)).sort((a, b) => b.length - a.length);
  for (let first = 0; first < resonators.length; first += 4) {
    const [a = SILENT, b = SILENT, c = SILENT, d = SILENT] = resonators.slice(first, first + 4);
    addFour(samples.subarray(0, a.length), a, b, c, d);
  }
}

function addFour(samples: Float32Array, a: Resonator, b: Resonator, c: Resonator, d: Resonator): void {
  const { recall: aRecall, forget: aForget } = a;
  const { recall: bRecall, forget: bForget } = b;
  const { recall: cRecall, forget: cForget } = c;
  const { recall: dRecall, forget: dForget } = d;
  let a1 = a.before;
  let b1 = b.before;
  let c1 = c.before;
  let d1 = d.before;
  let a0 = a.now;
  let b0 = b.now;
  let c0 = c.now;
  let d0 = d.now;
  for (let index = 0; index < samples.length; index++) {
    samples[index]! += a0 + b0 + (c0 + d0);
    const a2 = aRecall * a0 + aForget * a1;
    const b2 = bRecall * b0 + bForget * b1;
    const c2 = cRecall * c0 + cForget * c1;
    const d2 = dRecall * d0 + dForget * d1;
    a1 = a0;
    b1 = b0;
    c1 = c0;
    d1 = d0;
    a0 = a2;
    b0 = b2;
    c0 = c2;
    d0 = d2;
  }
}

/**
 * Noise between two frequencies, repeatable: the kit must sound the same on every machine.
 * @source xorshift32, through one-pole low-passes: two from above, and what is below taken off. All in one loop, for a value that is
 * kept in a closure is made anew for every sample.
 */
function addNoise(
  samples: Float32Array,
  { gain, decayS, lowHz, highHz, bursts = [0], attackS = 0, softShare = USUAL_SOFT_SHARE }: Noise,
  hardness: number,
  seed: number,
  sampleRate: number,
): void {
  const loudness = gain * (softShare + (1 - softShare) * hardness);
  const keepOf = (cutHz: number) => Math.exp((-2 * Math.PI * cutHz) / sampleRate);
  const keepHigh = keepOf(Math.min(sampleRate * 0.45, highHz * (0.55 + 0.45 * hardness)));
  const keepLow = keepOf(lowHz);
  const decay = Math.exp(-1 / (decayS * sampleRate));
  const attackSamples = attackS * sampleRate;
  let state = seed | 0;
  let [once, twice, under] = [0, 0, 0];
  let amplitude = 0;
  let nextBurst = 0;
  for (let index = 0; index < samples.length; index++) {
    if (nextBurst < bursts.length && index >= bursts[nextBurst]! * sampleRate) {
      amplitude = loudness;
      nextBurst++;
    }
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    const white = state / 0x80000000;
    once = white + keepHigh * (once - white);
    twice = once + keepHigh * (twice - once);
    under = twice + keepLow * (under - twice);
    const swell = index < attackSamples ? index / attackSamples : 1;
    samples[index]! += amplitude * swell * (twice - under);
    if (index >= attackSamples) amplitude *= decay;
  }
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

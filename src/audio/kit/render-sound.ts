import type { Mode, Noise, Recipe } from "./recipes.ts";
import { addResonators, fallOf, resonatorOf, SILENCE } from "./resonators.ts";

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

const LONGEST_S = 4;
const USUAL_SOFT_SHARE = 0.45;
/** The softest stroke has so much of the upper modes of a drum or a plate: it is darker, and not only softer. */
const SOFT_UPPER_MODES = 0.4;
const SOFT_BRIGHT_METAL = 0.35;
/** A pitch that is so little too high, as a share of itself, does not fall any more: a fiftieth of a semitone. */
const STEADY_BEND = 0.001;

/** Modes that hard and soft strokes have more or less of, together. */
interface Part {
  readonly modes: readonly Mode[];
  /** How much of them each layer has. */
  readonly gains: readonly number[];
}

/** How hard each layer is struck, 0 to 1. */
const HARDNESSES = Array.from({ length: LAYERS }, (_, layer) => layer / (LAYERS - 1));

/**
 * Renders one take of a stroke of the stand-in kit. A harder layer is brighter, noisier and falls from a higher pitch.
 * @param take 0 to `ROUND_ROBINS` − 1: another detuning and another noise
 * @returns mono samples of each layer, the softest first, whose peak is the recipe's level
 */
export function renderLayers(recipe: Recipe, take: number, sampleRate: number): readonly Float32Array[] {
  const parts = partsOf(recipe, 1 + (take - (ROUND_ROBINS - 1) / 2) * 0.006);
  const longestDecayS = Math.max(
    ...parts.flatMap(({ modes }) => modes.map(([, , decayS]) => decayS)),
    recipe.noise ? recipe.noise.decayS + (recipe.noise.bursts?.at(-1) ?? 0) + (recipe.noise.attackS ?? 0) : 0,
  );
  const length = Math.ceil(Math.min(LONGEST_S, longestDecayS * Math.log(1 / SILENCE)) * sampleRate);
  const layers = HARDNESSES.map(() => new Float32Array(length));
  for (const part of parts) {
    if (recipe.sweep) addSweptPart(layers, part, recipe.sweep, sampleRate);
    else addSteadyPart(layers, part, sampleRate);
  }
  for (const [layer, samples] of layers.entries()) {
    const seed = 0x5eed + take * 7919 + layer * 104_729;
    if (recipe.noise) addNoise(samples, recipe.noise, HARDNESSES[layer]!, seed, sampleRate);
    shapeEdges(samples, sampleRate);
    scaleToPeak(samples, recipe.level);
  }
  return layers;
}

/**
 * The lowest mode of a drum's body and the upper ones, of which a soft stroke has less; a plate's low half and its bright one.
 * @param detune times how much higher all of them are
 */
function partsOf({ modes, softBody = 1, metal }: Recipe, detune: number): readonly Part[] {
  const plate = metal ? platesModes(metal) : [];
  const middleHz = metal ? Math.sqrt(metal.lowHz * metal.highHz) : 0;
  const between = (soft: number) => HARDNESSES.map((hardness) => soft + (1 - soft) * hardness);
  const bodies = between(softBody);
  const upper = between(SOFT_UPPER_MODES).map((gain, layer) => gain * bodies[layer]!);
  const parts = [
    { modes: modes.slice(0, 1), gains: bodies },
    { modes: modes.slice(1), gains: upper },
    { modes: plate.filter(([frequencyHz]) => frequencyHz <= middleHz), gains: between(1) },
    { modes: plate.filter(([frequencyHz]) => frequencyHz > middleHz), gains: between(SOFT_BRIGHT_METAL) },
  ];
  return parts
    .filter((part) => part.modes.length > 0)
    .map((part) => ({
      ...part,
      modes: part.modes.map(([frequencyHz, gain, decayS]): Mode => [frequencyHz * detune, gain, decayS]),
    }));
}

function platesModes({ count, lowHz, highHz, gain, decayS }: NonNullable<Recipe["metal"]>): readonly Mode[] {
  // Spread by the golden section, so that no two ratios are simple and the plate has no pitch.
  return Array.from({ length: count }, (_, index): Mode => {
    const place = (index * 0.618034) % 1;
    return [lowHz * (highHz / lowHz) ** place, gain / Math.sqrt(count), decayS * (1.1 - 0.6 * place)];
  });
}

/** Steady modes sound the same in every layer, only more or less: they are made once. */
function addSteadyPart(layers: readonly Float32Array[], { modes, gains }: Part, sampleRate: number): void {
  const resonators = modes.map((mode) => resonatorOf(mode, phaseOf(mode), sampleRate));
  const length = Math.min(layers[0]!.length, Math.max(...resonators.map((one) => one.length)));
  const part = new Float32Array(length);
  addResonators(part, resonators);
  for (const [layer, samples] of layers.entries()) {
    const gain = gains[layer]!;
    for (let index = 0; index < length; index++) samples[index]! += gain * part[index]!;
  }
}

/** Another layer falls from another pitch: each is made by itself. */
function addSweptPart(
  layers: readonly Float32Array[],
  { modes, gains }: Part,
  sweep: NonNullable<Recipe["sweep"]>,
  sampleRate: number,
): void {
  for (const [layer, samples] of layers.entries()) {
    const bend = (sweep.ratio - 1) * (0.55 + 0.45 * HARDNESSES[layer]!);
    for (const [frequencyHz, gain, decayS] of modes) {
      addSwept(samples, [frequencyHz, gain * gains[layer]!, decayS], { bend, timeS: sweep.timeS }, sampleRate);
    }
  }
}

/**
 * The pitch comes to its own as an exponential: a sine follows it while that can be heard, and a resonator rings on.
 * @param from how far off the pitch begins, as a share of itself, and in what time it comes to its own
 */
function addSwept(
  samples: Float32Array,
  mode: Mode,
  from: { readonly bend: number; readonly timeS: number },
  sampleRate: number,
): void {
  const [frequencyHz, gain, decayS] = mode;
  const settling = fallOf(from.timeS, sampleRate);
  const decay = fallOf(decayS, sampleRate);
  const turn = (2 * Math.PI * frequencyHz) / sampleRate;
  const sweptSamples = Math.ceil(Math.log(Math.abs(from.bend) / STEADY_BEND) * from.timeS * sampleRate);
  let bend = from.bend;
  let amplitude = gain;
  let phase = phaseOf(mode);
  for (let index = 0; index < Math.min(sweptSamples, samples.length); index++) {
    if (amplitude <= SILENCE * gain) return;
    samples[index]! += amplitude * Math.sin(phase);
    phase += turn * (1 + bend);
    bend *= settling;
    amplitude *= decay;
  }
  const rest = samples.subarray(Math.max(0, sweptSamples));
  addResonators(rest, [resonatorOf([frequencyHz, amplitude, decayS], phase, sampleRate, gain)]);
}

/** Where a mode begins, in radians: the same every time, and elsewhere for each. */
const phaseOf = ([frequencyHz]: Mode) => frequencyHz % 1;

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
  const decay = fallOf(decayS, sampleRate);
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
    if (amplitude < SILENCE * loudness && nextBurst === bursts.length) return;
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

import { remembering } from "../remember.ts";
import type { Grid, TimeMaps } from "../time/index.ts";
import { hitsByPulse, type PulseHits } from "../timing/pulses.ts";
import { BarSlots } from "./bar-slots.ts";
import { shiftGain } from "./best-stretches.ts";
import { type GridModel, likelihood, likelihoodOn } from "./grid-model.ts";
import type { Onsets } from "./onsets.ts";
import { Turns } from "./turns.ts";

/** A hit this many spreads from its slot makes one wonder. */
export const DOUBTFUL_SPREADS = 2.1;
/** A hit that another grid explains so much better speaks for it: a logarithm of likelihoods. */
export const TELLING_GAIN = 1.5;
const TELLING_TIMES = Math.exp(TELLING_GAIN);
/** Fills hurry: of a beat of so many hits all may be this many spreads ahead, at a price. */
export const FEWEST_HURRIED = 3;
export const HURRY_SPREADS = 1;
export const HURRY_PRICE = 1.5;
const SMALLEST_PRODUCT = 1e-200;
const LARGEST_PRODUCT = 1e200;

/** How much better the hits of each pulse are explained on another grid, and how many of them speak for it. */
export interface Gains {
  /** A logarithm of likelihoods for each pulse that was asked for; NaN for the others. */
  readonly gain: Float64Array;
  readonly telling: Uint16Array;
  /** What of the gain is due to how hits follow one another. */
  readonly ofTurns: Float64Array;
}

/** What is known of a voice already, by grid, habit and spread. */
const rememberOnGrids = remembering<Onsets, Map<string, VoiceOnGrid>>();

/** A voice as a grid with its habit and spread explains it. */
export function voiceOnGrid(model: GridModel, onsets: Onsets, maps: TimeMaps): VoiceOnGrid {
  const known = rememberOnGrids(onsets, [maps], () => new Map());
  const key = JSON.stringify([model.grid, model.meanDriftMs, model.spreadMs]);
  const voice = known.get(key) ?? new VoiceOnGrid(model, onsets, maps);
  known.set(key, voice);
  return voice;
}

/**
 * A voice as one grid explains it, pulse by pulse. What another grid explains better is worked out once for each pulse, when it is first
 * asked for: the same voice is looked at again and again while more becomes known of the take.
 */
export class VoiceOnGrid {
  /** Which hits are far from their slot: 1 for each. */
  readonly isFar: Uint8Array;
  readonly farCount: number;
  readonly #model: GridModel;
  readonly #onsets: Onsets;
  readonly #maps: TimeMaps;
  /** Where each hit was played in its bar, the habit taken off. */
  readonly #placeTicks: Float64Array;
  #pulses: readonly PulseHits[] | null = null;
  /** How likely each hit is on the one grid, 0 where nobody has asked, and how much of that is due to those before it. */
  readonly #likelihoods: Float64Array;
  readonly #turns: Float64Array;
  readonly #gains = new Map<Grid, Gains>();

  constructor(model: GridModel, onsets: Onsets, maps: TimeMaps) {
    this.#model = model;
    this.#onsets = onsets;
    this.#maps = maps;
    const { inBarTicks, barTicks, msPerTick } = onsets;
    const finder = new BarSlots(model.grid, maps.meterMap.ppq);
    const count = inBarTicks.length;
    this.#placeTicks = new Float64Array(count);
    this.#likelihoods = new Float64Array(count);
    this.#turns = new Float64Array(count);
    this.isFar = new Uint8Array(count);
    let farCount = 0;
    for (let row = 0; row < count; row++) {
      const place = inBarTicks[row]! - model.meanDriftMs / msPerTick[row]!;
      this.#placeTicks[row] = place;
      finder.find(place, barTicks[row]!);
      if (Math.abs(place - finder.slot) * msPerTick[row]! <= DOUBTFUL_SPREADS * model.spreadMs) continue;
      this.isFar[row] = 1;
      farCount++;
    }
    this.farCount = farCount;
  }

  /** The pulses in which the voice plays. */
  get pulses(): readonly PulseHits[] {
    this.#pulses ??= pulsesOf(this.#onsets, this.#model.meanDriftMs, this.#maps);
    return this.#pulses;
  }

  /** With the same habit and spread, hurried where that explains a pulse better. @param pulses which are asked for, by their index */
  gainsOn(grid: Grid, pulses: readonly number[]): Gains {
    let gains = this.#gains.get(grid);
    if (!gains) {
      const count = this.pulses.length;
      gains = {
        gain: new Float64Array(count).fill(Number.NaN),
        telling: new Uint16Array(count),
        ofTurns: new Float64Array(count),
      };
      this.#gains.set(grid, gains);
    }
    const finder = new BarSlots(grid, this.#maps.meterMap.ppq);
    for (const pulse of pulses) if (Number.isNaN(gains.gain[pulse]!)) this.#weigh(finder, pulse, gains);
    return gains;
  }

  /** What is gained in some pulses if the hand is only early or late there as a whole. */
  shiftGain(pulses: readonly number[]): number {
    const { barTicks, msPerTick } = this.#onsets;
    const finder = new BarSlots(this.#model.grid, this.#maps.meterMap.ppq);
    const offsMs: number[] = [];
    this.#forEachRow(pulses, (row) => {
      finder.find(this.#placeTicks[row]!, barTicks[row]!);
      offsMs.push((this.#placeTicks[row]! - finder.slot) * msPerTick[row]!);
    });
    return shiftGain(offsMs, (lateMs) => {
      const [likelihoodOf, turnOf] = this.#reading(lateMs);
      let gain = 0;
      this.#forEachRow(pulses, (row, isFirst) => {
        gain += Math.log((likelihoodOf(row) * turnOf(row, isFirst)) / this.#likelihoods[row]!);
      });
      return gain;
    });
  }

  #forEachRow(pulses: readonly number[], visit: (row: number, isFirst: boolean) => void): void {
    for (const pulse of pulses) {
      const { firstRow, endRow } = this.pulses[pulse]!;
      for (let row = firstRow; row < endRow; row++) visit(row, row === firstRow);
    }
  }

  #weigh(finder: BarSlots, pulse: number, gains: Gains): void {
    const { firstRow, endRow } = this.pulses[pulse]!;
    this.#readLikelihoods(firstRow, endRow);
    this.#weighHurried(finder, pulse, 0, gains);
    if (endRow - firstRow >= FEWEST_HURRIED) {
      this.#weighHurried(finder, pulse, HURRY_SPREADS * this.#model.spreadMs, gains);
    }
  }

  /** Hot: it runs for each hit in doubt on each of a dozen grids, so that likelihoods are multiplied, with one logarithm a pulse. */
  #weighHurried(finder: BarSlots, pulse: number, hurryMs: number, { gain, telling, ofTurns }: Gains): void {
    const { spreadMs } = this.#model;
    const { ticks, inBarTicks, barTicks, msPerTick } = this.#onsets;
    const { firstRow, endRow } = this.pulses[pulse]!;
    let gained = hurryMs === 0 ? 0 : -HURRY_PRICE;
    let times = 1;
    let count = 0;
    let gainedByTurns = 0;
    const turns = new Turns(this.#maps.meterMap.ppq);
    for (let row = firstRow; row < endRow; row++) {
      const place = this.#placeTicks[row]! + hurryMs / msPerTick[row]!;
      finder.find(place, barTicks[row]!);
      const density = Math.min(1, finder.stepTicks / barTicks[row]!);
      const offMs = (place - finder.slot) * msPerTick[row]!;
      const turn = turns.next(ticks[row]! - inBarTicks[row]! + finder.evenSlot);
      if (turn !== this.#turns[row]) gainedByTurns += Math.log(turn / this.#turns[row]!);
      const alone = likelihood(offMs, spreadMs, density, barTicks[row]! * msPerTick[row]!);
      const own = (alone * turn) / this.#likelihoods[row]!;
      if (own > TELLING_TIMES) count++;
      times *= own;
      // Of hundreds of hits in one pulse the product is no number any more.
      if (times < SMALLEST_PRODUCT || times > LARGEST_PRODUCT) {
        gained += Math.log(times);
        times = 1;
      }
    }
    gained += Math.log(times);
    if (hurryMs > 0 && gained <= gain[pulse]!) return;
    gain[pulse] = gained;
    telling[pulse] = count;
    ofTurns[pulse] = gainedByTurns;
  }

  /** How likely hits are on the one grid. */
  #readLikelihoods(firstRow: number, endRow: number): void {
    if (this.#likelihoods[firstRow]! > 0) return;
    const [likelihoodOf, turnOf] = this.#reading(0);
    for (let row = firstRow; row < endRow; row++) {
      const turn = turnOf(row, row === firstRow);
      this.#likelihoods[row] = likelihoodOf(row) * turn;
      this.#turns[row] = turn;
    }
  }

  /**
   * How likely a hit is by itself, and by those before it in its pulse, which have been asked for.
   * @param lateMs how late the hand is besides its habit
   */
  #reading(lateMs: number) {
    const { ppq } = this.#maps.meterMap;
    const { ticks, inBarTicks, barTicks, msPerTick } = this.#onsets;
    const finder = new BarSlots(this.#model.grid, ppq);
    const turns = new Turns(ppq);
    const turnOf = (row: number, isFirst: boolean) => {
      if (isFirst) turns.begin();
      finder.find(this.#placeTicks[row]! - lateMs / msPerTick[row]!, barTicks[row]!);
      return turns.next(ticks[row]! - inBarTicks[row]! + finder.evenSlot);
    };
    const late = { ...this.#model, meanDriftMs: this.#model.meanDriftMs + lateMs };
    return [likelihoodOn(late, this.#onsets, ppq), turnOf] as const;
  }
}

/** The pulses in which a voice plays. */
export function pulsesOf({ ticks, msPerTick }: Onsets, meanDriftMs: number, maps: TimeMaps): readonly PulseHits[] {
  return hitsByPulse(ticks.length, (row) => ticks[row]! - meanDriftMs / msPerTick[row]!, maps.meterMap);
}

import {
  GRID_CHOICES,
  type Grid,
  type GridStretch,
  gridStepTicks,
  isSameGrid,
  STRAIGHT_PERCENT,
  type TimeMaps,
} from "../time/index.ts";
import { hitsByPulse } from "../timing/pulses.ts";
import { BarSlots, isWithin } from "./bar-slots.ts";
import {
  bestStretches,
  FEWEST_TELLING_HITS,
  isPlayable,
  isUnusual,
  RECURRING_PRICE,
  shiftGain,
  UNUSUAL_PRICE,
} from "./best-stretches.ts";
import { likelihood } from "./grid-model.ts";
import type { Onsets } from "./onsets.ts";
import { Turns } from "./turns.ts";
import {
  DOUBTFUL_SPREADS,
  FEWEST_HURRIED,
  type Gains,
  HURRY_PRICE,
  HURRY_SPREADS,
  TELLING_GAIN,
} from "./voice-on-grid.ts";

// A fill goes over the drums: each of them has a hit or two of it, from which nothing could be told. So a beat is read once more, over
// all that plays in it.

/** What another grid must explain better before a fill of it is believed, as a logarithm of likelihoods. */
const FILL_PRICE = 10;
/** … and of such as most fills are: in half the steps of the take, or in sixes. */
const USUAL_FILL_PRICE = 7;
const SIXES: Grid = { family: "triplet", denominator: 16 };
/** A voice that goes on as before while others play a fill, as a foot does, speaks against it no more than this. */
const OWN_WAY = 1.5;
/** A hit that is no more than this ahead of a beat may be played for it. */
const FOR_SPREADS = 2.5;
/** Slots of two grids that are nearer than this are one. */
const SAME_SLOT_MS = 0.5;

/** A voice as far as it is known. */
export interface KnownVoice {
  readonly onsets: Onsets;
  /** What it follows where it plays no fill. */
  readonly grid: Grid;
  /** How late it sits, and how far its hits are from that. */
  readonly meanDriftMs: number;
  readonly spreadMs: number;
}

export interface Fills {
  /** Ascending. */
  readonly stretches: readonly GridStretch[];
  readonly ofVoices: readonly PlayedFills[];
}

/** The fills that one voice plays in. */
export interface PlayedFills {
  readonly stretches: readonly GridStretch[];
  /** How much better they explain it: a logarithm of likelihoods. */
  readonly gain: number;
}

/** What one voice plays in a beat. */
interface BeatPart {
  readonly voice: number;
  readonly firstRow: number;
  readonly endRow: number;
}

interface Beat {
  readonly startTick: number;
  readonly endTick: number;
  readonly parts: BeatPart[];
}

/**
 * Finds beats in which the voices of a take together follow another grid than each does as a rule.
 * @param recurring grids that some voice is known to follow in some places
 * @param handMs how far hits of the take are from their slots
 * @param main what most of them follow
 */
export function findFills(
  voices: readonly KnownVoice[],
  recurring: readonly Grid[],
  handMs: number,
  main: Grid,
  maps: TimeMaps,
): Fills {
  const { ppq } = maps.meterMap;
  const usual = voices.map((voice) => new Reading(voice, voice.grid, ppq, true));
  const beats = doubtfulBeats(usual, maps);
  const isOfAll = (grid: Grid) => voices.every((voice) => isWithin(grid, unswung(voice.grid), ppq));
  const tickMs = voices[0]?.onsets.msPerTick[0] ?? 1;
  // Quarters say nothing of a beat, and quarter triplets need two.
  const grids = GRID_CHOICES.filter(
    (grid) => grid.denominator > 4 && isPlayable(grid, handMs, tickMs, ppq) && !isOfAll(grid),
  );
  const others = grids.map((grid) => voices.map((voice) => new Reading(voice, grid, ppq)));
  const places = placesOf(usual);
  const gains = others.map((readings, index) => {
    const found = gainsOf(beats, readings, usual);
    // Half the steps of the take: what is early or late by one as a whole has no two hits that are one apart.
    if (isWithin(main, grids[index]!, ppq) && grids[index]!.family === "straight")
      withoutShifts(found.gain, beats, places, gridStepTicks(grids[index]!, ppq));
    return found;
  });
  const units = beats.map(({ startTick, endTick }, pulse) => ({ startTick, endTick, pulse }));
  const seek = (known: readonly Grid[]) => {
    const prices = Float64Array.from(grids, (grid) => {
      if (known.some((one) => isSameGrid(one, grid))) return RECURRING_PRICE;
      if (isUnusual(grid, ppq)) return UNUSUAL_PRICE;
      return isWithin(main, grid, ppq) || isSameGrid(grid, SIXES) ? USUAL_FILL_PRICE : FILL_PRICE;
    });
    const pricesAt = units.map(() => prices);
    const shiftGainOf = (pulses: readonly number[]) => shiftGainIn(pulses, beats, usual);
    return bestStretches(units, grids, gains, pricesAt, () => FEWEST_TELLING_HITS, shiftGainOf).stretches;
  };
  const certain = seek(recurring);
  // Who plays one such fill plays several.
  const stretches = certain.length === 0 ? certain : seek([...recurring, ...certain.map(({ grid }) => grid)]);
  return { stretches, ofVoices: playedIn(stretches, beats, usual, (grid) => others[grids.indexOf(grid)]!) };
}

/** For each voice the fills that it plays in: some hit of it is elsewhere on their grid, and it speaks for that or hardly against it. */
function playedIn(
  stretches: readonly GridStretch[],
  beats: readonly Beat[],
  usual: readonly Reading[],
  othersOn: (grid: Grid) => readonly Reading[],
): readonly PlayedFills[] {
  const played = usual.map(() => ({ stretches: [] as GridStretch[], gain: 0 }));
  let at = 0;
  for (const stretch of stretches) {
    const others = othersOn(stretch.grid);
    const inStretch = usual.map(() => ({ gain: 0, isElsewhere: false }));
    while (beats[at]!.startTick < stretch.startTick) at++;
    for (; at < beats.length && beats[at]!.startTick < stretch.endTick; at++) {
      for (const part of beats[at]!.parts) {
        const [own, other, voice] = [usual[part.voice]!, others[part.voice]!, inStretch[part.voice]!];
        voice.gain += Math.max(gainOf(part, other, own).gain, gainOf(part, other, own, hurryOf(other)).gain);
        for (let row = part.firstRow; row < part.endRow; row++)
          if (Math.abs(own.offMs(row) - other.offMs(row)) > SAME_SLOT_MS && !own.isFor(row, beats[at]!.endTick))
            voice.isElsewhere = true;
      }
    }
    for (const [index, { gain, isElsewhere }] of inStretch.entries()) {
      if (!isElsewhere || gain <= -OWN_WAY) continue;
      const voice = played[index]!;
      voice.stretches.push(stretch);
      voice.gain += gain;
    }
  }
  return played;
}

const unswung = ({ family, denominator }: Grid): Grid => ({ family, denominator });

/** A voice as it would be read on a grid, each slot of which is as likely as the others. */
class Reading {
  readonly voice: KnownVoice;
  readonly ppq: number;
  /** The slot of the hit whose likelihood was asked for last, without swing, in ticks from the start of the take. */
  slotTick = 0;
  readonly #finder: BarSlots;
  /** 0 where nobody has asked. */
  readonly #known: Float64Array | null;
  readonly #knownSlots: Float64Array | null;

  /** @param isAskedOften whether every other grid is compared with it */
  constructor(voice: KnownVoice, grid: Grid, ppq: number, isAskedOften = false) {
    this.voice = voice;
    this.ppq = ppq;
    this.#finder = new BarSlots(grid, ppq);
    this.#known = isAskedOften ? new Float64Array(voice.onsets.ticks.length) : null;
    this.#knownSlots = this.#known?.slice() ?? null;
  }

  /** How far a hit is from its slot, the habit of its voice taken off. @param aheadMs what it is hurried by */
  offMs(row: number, aheadMs = 0): number {
    const { onsets, meanDriftMs } = this.voice;
    const msPerTick = onsets.msPerTick[row]!;
    const place = onsets.inBarTicks[row]! + (aheadMs - meanDriftMs) / msPerTick;
    this.#finder.find(place, onsets.barTicks[row]!);
    return (place - this.#finder.slot) * msPerTick;
  }

  /** Whether a hit may be played for a beat that it is a little ahead of, as a crash after a fill. */
  isFor(row: number, beatTick: number): boolean {
    const { onsets, meanDriftMs, spreadMs } = this.voice;
    const msPerTick = onsets.msPerTick[row]!;
    return (beatTick - onsets.ticks[row]!) * msPerTick + meanDriftMs < FOR_SPREADS * spreadMs;
  }

  /** How likely a hit is on time, in hits a ms. */
  likelihood(row: number): number {
    const known = this.#known?.[row] ?? 0;
    if (known > 0) {
      this.slotTick = this.#knownSlots![row]!;
      return known;
    }
    const found = this.likelihoodAhead(row, 0);
    if (this.#known) this.#known[row] = found;
    if (this.#knownSlots) this.#knownSlots[row] = this.slotTick;
    return found;
  }

  /** How likely a hit is that is hurried. */
  likelihoodAhead(row: number, aheadMs: number): number {
    const { onsets, spreadMs } = this.voice;
    const barTicks = onsets.barTicks[row]!;
    const density = Math.min(1, this.#finder.stepTicks / barTicks);
    const offMs = this.offMs(row, aheadMs);
    this.slotTick = onsets.ticks[row]! - onsets.inBarTicks[row]! + this.#finder.evenSlot;
    return likelihood(offMs, spreadMs, density, barTicks * onsets.msPerTick[row]!);
  }
}

/** The beats in which some hit is far from its slot, each with all that is played in it. */
function doubtfulBeats(usual: readonly Reading[], { meterMap }: TimeMaps): readonly Beat[] {
  const beats = new Map<number, Beat>();
  const doubtful = new Set<number>();
  for (const [index, reading] of usual.entries()) {
    const { onsets, meanDriftMs, spreadMs } = reading.voice;
    const { ticks, msPerTick } = onsets;
    const placeOf = (row: number) => ticks[row]! - meanDriftMs / msPerTick[row]!;
    for (const { startTick, endTick, firstRow, endRow } of hitsByPulse(ticks.length, placeOf, meterMap)) {
      const beat = beats.get(startTick) ?? { startTick, endTick, parts: [] };
      beats.set(startTick, beat);
      beat.parts.push({ voice: index, firstRow, endRow });
      for (let row = firstRow; row < endRow && !doubtful.has(startTick); row++)
        if (Math.abs(reading.offMs(row)) > DOUBTFUL_SPREADS * spreadMs) doubtful.add(startTick);
    }
  }
  return [...beats.values()]
    .filter(({ startTick }) => doubtful.has(startTick))
    .sort((one, other) => one.startTick - other.startTick);
}

/** How much better one grid explains a part than another, and how many hits say so. */
interface PartGain {
  readonly gain: number;
  readonly telling: number;
}

const hurryOf = ({ voice }: Reading) => HURRY_SPREADS * voice.spreadMs;

function gainOf({ firstRow, endRow }: BeatPart, other: Reading, usual: Reading, aheadMs = 0): PartGain {
  let gain = 0;
  let telling = 0;
  const [turns, usualTurns] = [new Turns(other.ppq), new Turns(other.ppq)];
  for (let row = firstRow; row < endRow; row++) {
    // One after the other: both may be the same reading.
    const onOther = other.likelihoodAhead(row, aheadMs) * turns.next(other.slotTick);
    const onUsual = usual.likelihood(row) * usualTurns.next(usual.slotTick);
    const better = Math.log(onOther / onUsual);
    gain += better;
    if (better > TELLING_GAIN) telling++;
  }
  return { gain, telling };
}

/** Of each beat the gains of all that is played in it, hurried where that explains it better. */
function gainsOf(beats: readonly Beat[], others: readonly Reading[], usual: readonly Reading[]): Gains {
  const gain = new Float64Array(beats.length);
  const telling = new Uint16Array(beats.length);
  // Fills are not added to what a grid is worth, so nobody asks what of them is due to that.
  const ofTurns = new Float64Array(beats.length);
  const weigh = (at: number, hurries: boolean, price: number) => {
    let [gained, count] = [-price, 0];
    for (const part of beats[at]!.parts) {
      const own = gainOf(part, others[part.voice]!, usual[part.voice]!, hurries ? hurryOf(others[part.voice]!) : 0);
      gained += Math.max(-OWN_WAY, own.gain);
      count += own.telling;
    }
    if (price > 0 && gained <= gain[at]!) return;
    gain[at] = gained;
    telling[at] = count;
  };
  for (let at = 0; at < beats.length; at++) {
    weigh(at, false, 0);
    const hits = beats[at]!.parts.reduce((sum, { firstRow, endRow }) => sum + endRow - firstRow, 0);
    if (hits >= FEWEST_HURRIED) weigh(at, true, HURRY_PRICE);
  }
  return { gain, telling, ofTurns };
}

/** What is gained in some beats if all that is played in them is only early or late as a whole. */
function shiftGainIn(pulses: readonly number[], beats: readonly Beat[], usual: readonly Reading[]): number {
  const parts = pulses.flatMap((pulse) => beats[pulse]!.parts);
  const offsMs = parts.flatMap(({ voice, firstRow, endRow }) =>
    Array.from({ length: endRow - firstRow }, (_, index) => usual[voice]!.offMs(firstRow + index)),
  );
  return shiftGain(offsMs, (lateMs) =>
    parts.reduce((gain, part) => gain + gainOf(part, usual[part.voice]!, usual[part.voice]!, -lateMs).gain, 0),
  );
}

/** Where the hits of all voices were played, the habits of the voices taken off: ascending, in ticks. */
function placesOf(usual: readonly Reading[]): Float64Array {
  const places = usual.flatMap(({ voice: { onsets, meanDriftMs } }) =>
    Array.from(onsets.ticks, (tick, row) => tick - meanDriftMs / onsets.msPerTick[row]!),
  );
  return Float64Array.from(places).sort();
}

/** Hits nearer than this share of a step were struck together, farther than this they are no run of such steps. */
const TOGETHER = 0.7;
const IN_RUN = 1.4;

/** Beats in which no hit follows another at one step gain nothing by such steps. */
function withoutShifts(gain: Float64Array, beats: readonly Beat[], places: Float64Array, stepTicks: number): void {
  let at = 0;
  for (let beat = 0; beat < beats.length; beat++) {
    const { startTick, endTick } = beats[beat]!;
    while (at < places.length && places[at]! < startTick - IN_RUN * stepTicks) at++;
    let isRun = false;
    let last = Number.NEGATIVE_INFINITY;
    for (let hit = at; hit < places.length && places[hit]! < endTick + stepTicks && !isRun; hit++) {
      const apart = places[hit]! - last;
      isRun = apart >= TOGETHER * stepTicks && apart <= IN_RUN * stepTicks;
      last = places[hit]!;
    }
    if (!isRun) gain[beat] = Math.min(0, gain[beat]!);
  }
}

/**
 * What most of the hits of a take follow, as plainly as it is said: the grid of a voice of which little is known.
 * @returns null where most of them follow none
 */
export function mainGrid(
  voices: readonly { readonly grid: Grid; readonly isPoor: boolean; readonly hitCount: number }[],
): Grid | null {
  const hitsOn = (isOf: (grid: Grid) => boolean) =>
    voices.reduce((sum, { grid, isPoor, hitCount }) => sum + (!isPoor && isOf(grid) ? hitCount : 0), 0);
  const told = hitsOn(() => true);
  const all = voices.reduce((sum, { hitCount }) => sum + hitCount, 0);
  if (2 * told <= all) return null;
  if (2 * hitsOn(({ family }) => family === "triplet") > told) return { family: "triplet", denominator: 8 };
  const swung = voices.find(({ grid }) => (grid.swingPercent ?? STRAIGHT_PERCENT) !== STRAIGHT_PERCENT)?.grid;
  // Hats in eighths say nothing of how sixteenths swing.
  const saysNothing = (grid: Grid) => grid.family === "straight" && grid.denominator < (swung?.denominator ?? 0);
  if (swung && 2 * hitsOn((grid) => isSameGrid(grid, swung)) > told - hitsOn(saysNothing)) return swung;
  return { family: "straight", denominator: 16 };
}

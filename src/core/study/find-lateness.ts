import type { Family, Voice } from "../document/note-map.ts";
import type { Hit, Lane } from "../document/pattern.ts";
import { type Bar, barAt, type MeterMap, type TimeMaps } from "../time/index.ts";
import { median } from "../timing/drift.ts";
import { collectOnsets, type Onsets, thinnedHits } from "./onsets.ts";

// How late a whole take came in, by what drummers do. The drifts of hits say it only but for whole steps: a take that is 90 ms late is
// as well some ms early by a step. Which of them it is, the places in the bar tell: kicks come on one, the back-beat on two and four,
// hats keep eighths, crashes mark bar lines.

/** One reading of a take: its hits were meant so much earlier. */
export interface LateReading {
  /** Late is positive. */
  readonly lateMs: number;
  /** How much likelier than all other readings together, 0 to 1. */
  readonly confidence: number;
}

/** How late a take came in, and what else it may be. */
export interface Lateness extends LateReading {
  readonly runnerUp: LateReading | null;
}

/** A drum, and its hits ascending by base tick. */
export interface VoiceOfTake {
  readonly voice: Pick<Voice, "family" | "articulations">;
  readonly hits: readonly Hit[];
}

/** What a drum does in a bar. */
type Work = "kick" | "backBeat" | "ghost" | "time" | "crash" | "foot" | "tom";

/** How often each work is done on a slot of each sort, in proportion. */
interface Habit {
  readonly bar: number;
  /** A pulse in the middle of the bar, and those beside it. */
  readonly middle: number;
  readonly backBeat: number;
  /** Half-way between pulses, and half-way from there. */
  readonly half: number;
  readonly quarter: number;
  readonly firstTriplet: number;
  readonly lastTriplet: number;
  /** Where a pulse has three units, the second and third of them, and between. */
  readonly secondUnit: number;
  readonly thirdUnit: number;
  readonly betweenUnits: number;
}

const HABITS: Readonly<Record<Work, Habit>> = {
  kick: habit(8, 4, 1.8, 1.8, 0.6, 0.12, 0.4, 0.8, 1.6, 0.25),
  backBeat: habit(0.4, 1.6, 9, 0.5, 0.35, 0.12, 0.25, 0.4, 0.6, 0.2),
  ghost: habit(0.4, 0.5, 0.5, 1, 2, 0.3, 0.7, 1, 1.2, 0.7),
  time: habit(5, 5, 5, 4, 1.2, 0.35, 1.4, 4, 4.2, 0.7),
  crash: habit(12, 2, 2, 0.9, 0.3, 0.1, 0.2, 0.4, 0.6, 0.1),
  foot: habit(2.2, 2.2, 4.5, 2.4, 0.2, 0.1, 0.2, 0.5, 1, 0.1),
  tom: habit(2, 1.8, 1.5, 1.3, 1.1, 0.4, 0.5, 1, 1, 0.6),
};

function habit(
  ...rates: readonly [number, number, number, number, number, number, number, number, number, number]
): Habit {
  const [bar, middle, backBeat, half, quarter, firstTriplet, lastTriplet, secondUnit, thirdUnit, betweenUnits] = rates;
  return { bar, middle, backBeat, half, quarter, firstTriplet, lastTriplet, secondUnit, thirdUnit, betweenUnits };
}

/** Takes come in no farther off than this. */
const FARTHEST_LATE_MS = 156;
const STEP_MS = 4;
/** How widely hits lie around where they were meant, habits of voices included. */
const SPREAD_MS = 13;
/** The share of hits that are anywhere. */
const STRAY_SHARE = 0.04;
/** Most takes are hardly late at all. */
const USUAL_LATE_MS = 55;
/** Readings nearer than this are one. */
const APART_MS = 34;
/** A drum may do what drums do everywhere, at this price, as a logarithm: what is no usual part then says little either way. */
const UNUSUAL_PRICE = 14;
/** Where a take or a phrase begins: on a bar line, or with a pick-up. */
const PHRASE_START = habit(8, 2, 2, 1.2, 0.8, 0.3, 0.5, 1, 1.4, 0.3);
const UNUSUAL = habit(3, 3, 3.5, 2.5, 2, 0.4, 1, 2.5, 2.5, 1);
/** … and of those the one comes first that moves the take by less than this share of the other. */
const CLEARLY_LESS = 0.7;
/** Bars are much like each other, and less independent than their likelihoods say. */
const HEDGE = 4;
/** Two readings as near as this are both likely; where neither kick nor snare says where the bar is, also less near ones. */
const CLOSE_CALL = 1.5;
const CLOSE_CALL_WITHOUT = 8;
/** Bars are much like each other: what many say alike is worth as much as so many hits of each voice. */
const TELLING_HITS = 48;
const MOST_HITS = 240;
/** Cymbals that are struck more often in a bar keep time. */
const TIME_PER_BAR = 1.8;
/** From this share of the loud ones on a snare stroke is no ghost, or from half-way up from the soft ones where those are clearly softer. */
const LOUD_SHARE = 0.62;
const CLEARLY_SOFTER_SHARE = 0.78;
const BINS_PER_QUARTER = 48;

/**
 * Finds how late a take came in, from all of its voices together.
 * @returns the likeliest reading and the next one; 0 ms for a take without hits
 * @source maximum likelihood over a mixture of the slots of a bar
 */
export function findLateness(voices: readonly VoiceOfTake[], maps: TimeMaps): Lateness {
  const { meterMap } = maps;
  const parts = voices.flatMap((voice) => worksOf(voice, maps));
  if (parts.length === 0) return { lateMs: 0, confidence: 1, runnerUp: null };
  const msPerTick = median(parts.map(({ onsets }) => onsets.msPerTick[0]!));
  const tables = new Tables(meterMap.ppq, SPREAD_MS / msPerTick);
  const count = Math.round(FARTHEST_LATE_MS / STEP_MS);
  const latesMs = Array.from({ length: 2 * count + 1 }, (_, index) => (index - count) * STEP_MS);
  const scores = latesMs.map((lateMs) => -0.5 * (lateMs / USUAL_LATE_MS) ** 2);
  for (const { onsets, rows, work, weight, loudest } of parts) {
    const usual = new Float64Array(latesMs.length);
    const unusual = new Float64Array(latesMs.length);
    for (const row of rows) {
      // What is loud is on the beat rather than beside it.
      const share = Math.min(1, onsets.velocities[row]! / loudest);
      // Hot. All readings of a hit are near each other, mostly in one bar.
      for (let index = 0; index < latesMs.length; index++) {
        tables.seek(onsets.ticks[row]! - latesMs[index]! / onsets.msPerTick[row]!, meterMap);
        usual[index]! += share * tables.of(HABITS[work]);
        unusual[index]! += share * tables.of(UNUSUAL);
      }
    }
    for (let index = 0; index < scores.length; index++) {
      scores[index]! += logOfSum(weight * usual[index]!, weight * unusual[index]! - UNUSUAL_PRICE);
    }
  }
  for (const { tick, msPerTick } of phraseStarts(parts)) {
    for (let index = 0; index < latesMs.length; index++) {
      tables.seek(tick - latesMs[index]! / msPerTick, meterMap);
      scores[index]! += tables.of(PHRASE_START);
    }
  }
  const readings = latesMs.map((lateMs, index) => ({ lateMs, score: scores[index]! }));
  const saysBars = parts.some(({ work }) => work === "kick" || work === "backBeat");
  return bestTwo(readings, saysBars ? CLOSE_CALL : CLOSE_CALL_WITHOUT);
}

/** The first hits after at least a bar without any, and the first of all. */
function phraseStarts(parts: readonly Told[]): readonly { readonly tick: number; readonly msPerTick: number }[] {
  const hits = parts
    .flatMap(({ onsets, rows }) =>
      rows.map((row) => ({
        tick: onsets.ticks[row]!,
        barTicks: onsets.barTicks[row]!,
        msPerTick: onsets.msPerTick[row]!,
      })),
    )
    .sort((one, other) => one.tick - other.tick);
  return hits.filter(({ tick, barTicks }, index) => index === 0 || tick - hits[index - 1]!.tick > barTicks);
}

/** The logarithm of the sum of two numbers that are given as logarithms. */
function logOfSum(a: number, b: number): number {
  const [more, less] = a > b ? [a, b] : [b, a];
  return more + Math.log1p(Math.exp(less - more));
}

/** What is taken off each lane before its slots are sought. */
export const lateOf = (lanes: readonly Lane[]) =>
  lanes.map(({ treatment: { timing } }) => timing.latencyMs + timing.pocketMs);

/** Readings as near as this to what a person has chosen are that. */
const SAME_READING_MS = 25;

/**
 * The reading that lanes follow: the likeliest, or the runner-up where a person has chosen that.
 * @param laneLateMs what the treatment of each lane takes off: its latency and its pocket
 */
export function readingFollowed(lateness: Lateness, laneLateMs: readonly number[]): Lateness {
  const { lateMs, confidence, runnerUp } = lateness;
  if (!runnerUp || laneLateMs.length === 0) return lateness;
  const isRunnerUp = Math.abs(median(laneLateMs) - runnerUp.lateMs) <= SAME_READING_MS;
  return isRunnerUp ? { ...runnerUp, runnerUp: { lateMs, confidence } } : lateness;
}

interface Scored {
  readonly lateMs: number;
  /** A logarithm of how likely it is. */
  readonly score: number;
}

/** The best reading and the best that is another one. Of two that are nearly as likely, one that moves the take clearly less comes first. */
function bestTwo(readings: readonly Scored[], closeCall: number): Lateness {
  const scoreAt = (index: number) => readings[index]?.score ?? Number.NEGATIVE_INFINITY;
  const peaks = readings
    .filter(({ score }, index) => score >= scoreAt(index - 1) && score >= scoreAt(index + 1))
    .sort((a, b) => b.score - a.score);
  const likeliest = peaks[0]!;
  const isOther = (one: Scored, than: Scored) => Math.abs(one.lateMs - than.lateMs) >= APART_MS;
  const close = peaks.filter(
    (one) => one === likeliest || (isOther(one, likeliest) && likeliest.score - one.score < closeCall),
  );
  const best = close.reduce((least, one) =>
    Math.abs(one.lateMs) < CLEARLY_LESS * Math.abs(least.lateMs) ? one : least,
  );
  const second = peaks.find((one) => isOther(one, best));
  if (!second) return { lateMs: best.lateMs, confidence: 1, runnerUp: null };
  const confidence = 1 / (1 + Math.exp((second.score - best.score) / HEDGE));
  return {
    lateMs: best.lateMs,
    confidence,
    runnerUp: { lateMs: second.lateMs, confidence: 1 - confidence },
  };
}

interface Told {
  readonly onsets: Onsets;
  readonly rows: readonly number[];
  readonly work: Work;
  /** How much each hit counts. */
  readonly weight: number;
  /** The velocity from which on a hit counts in full. */
  readonly loudest: number;
}

/** The hits of a voice by what they do in the bar; of many hits runs of them, which say it as well. */
function worksOf({ voice, hits }: VoiceOfTake, maps: TimeMaps): readonly Told[] {
  const byFoot = new Set(voice.articulations.flatMap(({ id, mark }) => (mark === "foot" ? [id] : [])));
  const some = thinnedHits(hits, MOST_HITS);
  const feet = byFoot.size === 0 ? [] : some.filter(({ articulationId }) => byFoot.has(articulationId));
  const hands = feet.length === 0 ? some : some.filter(({ articulationId }) => !byFoot.has(articulationId));
  const onsets = collectOnsets(hands, maps);
  const work = workOf(voice.family, onsets);
  if (work !== "backBeat") return [told(onsets, work), told(collectOnsets(feet, maps), "foot")].flat();
  const loud = strokesFrom(onsets);
  const isLoud = (row: number) => onsets.velocities[row]! >= loud;
  return [told(onsets, "backBeat", isLoud), told(onsets, "ghost", (row) => !isLoud(row))].flat();
}

/** Some of the hits of a voice, if there are any. */
function told(onsets: Onsets, work: Work, isOf: (row: number) => boolean = () => true): readonly Told[] {
  const rows: number[] = [];
  for (let row = 0; row < onsets.ticks.length; row++) if (isOf(row)) rows.push(row);
  if (rows.length === 0) return [];
  return [{ onsets, rows, work, weight: Math.min(1, TELLING_HITS / rows.length), loudest: loudOf(onsets) }];
}

function workOf(family: Family, onsets: Onsets): Work {
  if (family === "kick") return "kick";
  if (family === "snare") return "backBeat";
  if (family === "hats") return "time";
  const bars = new Set<number>();
  for (let row = 0; row < onsets.ticks.length; row++) bars.add(Math.floor(onsets.ticks[row]! / onsets.barTicks[row]!));
  const keepsTime = onsets.ticks.length >= TIME_PER_BAR * bars.size;
  if (family === "cymbals") return keepsTime ? "time" : "crash";
  return family === "percussion" && keepsTime ? "time" : "tom";
}

/** The velocity of the loud strokes of a voice: all but a tenth are softer. */
const loudOf = (onsets: Onsets) => softerThan(onsets, 0.9);

function softerThan({ velocities }: Onsets, share: number): number {
  return velocities.toSorted()[Math.floor(share * (velocities.length - 1))] ?? 1;
}

/** From which velocity on a snare stroke is no ghost. */
function strokesFrom(onsets: Onsets): number {
  const [soft, loud] = [softerThan(onsets, 0.1), loudOf(onsets)];
  return soft < CLEARLY_SOFTER_SHARE * loud ? Math.max(LOUD_SHARE * loud, (soft + loud) / 2) : LOUD_SHARE * loud;
}

/** How likely a hit of some habit is at each place of a bar, as logarithms, for each sort of bar that there is. */
class Tables {
  readonly #ppq: number;
  readonly #spreadTicks: number;
  readonly #binTicks: number;
  readonly #byBar = new Map<string, Map<Habit, Float64Array>>();
  #bar: Bar | null = null;
  #tables = new Map<Habit, Float64Array>();
  #bin = 0;

  constructor(ppq: number, spreadTicks: number) {
    this.#ppq = ppq;
    this.#spreadTicks = spreadTicks;
    this.#binTicks = ppq / BINS_PER_QUARTER;
  }

  /** Goes to a place of a bar, of which several habits may be asked. */
  seek(tick: number, meterMap: MeterMap): void {
    // What is before the start was meant for the bar line there, or for a bar that was not recorded.
    if (!this.#bar || tick < this.#bar.startTick || tick >= this.#bar.endTick) this.#enter(barAt(meterMap, tick));
    this.#bin = Math.floor((tick - this.#bar!.startTick) / this.#binTicks);
  }

  #enter(bar: Bar): void {
    this.#bar = bar;
    const { meter, startTick, endTick } = bar;
    const sort = `${meter.numerator}/${meter.denominator} ${endTick - startTick}`;
    const known = this.#byBar.get(sort);
    this.#tables = known ?? new Map();
    if (!known) this.#byBar.set(sort, this.#tables);
  }

  /** How likely a hit of a habit is at the place that was gone to. */
  of(habit: Habit): number {
    let table = this.#tables.get(habit);
    if (!table) {
      table = tableOf(habit, this.#bar!, this.#ppq, this.#spreadTicks, this.#binTicks);
      this.#tables.set(habit, table);
    }
    const bin = this.#bin;
    return bin >= 0 && bin < table.length ? table[bin]! : table[((bin % table.length) + table.length) % table.length]!;
  }
}

function tableOf(rates: Habit, bar: Bar, ppq: number, spreadTicks: number, binTicks: number): Float64Array {
  const barTicks = bar.endTick - bar.startTick;
  const slots = slotsOf(rates, bar, ppq);
  const total = slots.reduce((sum, { rate }) => sum + rate, 0);
  const table = new Float64Array(Math.max(1, Math.ceil(barTicks / binTicks - 1e-6)));
  for (let bin = 0; bin < table.length; bin++) {
    const tick = (bin + 0.5) * binTicks;
    let density = STRAY_SHARE / barTicks;
    for (const { inBarTicks, rate } of slots) {
      const apart = Math.abs(tick - inBarTicks);
      const off = Math.min(apart, barTicks - apart) / spreadTicks;
      if (off < 4)
        density += (((1 - STRAY_SHARE) * rate) / total) * (Math.exp(-0.5 * off * off) / (spreadTicks * 2.5066));
    }
    table[bin] = Math.log(density);
  }
  return table;
}

/** The places of a bar, each with how often it is struck. */
function slotsOf(
  rates: Habit,
  bar: Bar,
  ppq: number,
): readonly { readonly inBarTicks: number; readonly rate: number }[] {
  const { pulseTicks, meter } = bar;
  const barTicks = bar.endTick - bar.startTick;
  const unitTicks = (4 * ppq) / meter.denominator;
  const pulses = pulseTicks.filter((start) => start < barTicks);
  return pulses.flatMap((start, index) => {
    const length = (pulses[index + 1] ?? barTicks) - start;
    const isMiddle = pulses.length % 2 === 0 && index === pulses.length / 2 && pulses.length > 2;
    const isBack = pulses.length % 2 === 0 ? index % 2 === 1 : index > 0;
    // In an odd bar every pulse but the first may be the back-beat.
    const back = pulses.length % 2 === 0 ? rates.backBeat : (rates.backBeat + rates.middle) / 2;
    const onPulse = index === 0 ? rates.bar : isMiddle ? rates.middle : isBack ? back : rates.middle;
    const at = (share: number, rate: number) => ({ inBarTicks: start + share * length, rate });
    if (meter.denominator >= 8 && Math.abs(length - 3 * unitTicks) < 1) {
      const between = [1 / 6, 3 / 6, 5 / 6].map((share) => at(share, rates.betweenUnits));
      return [at(0, onPulse), at(1 / 3, rates.secondUnit), at(2 / 3, rates.thirdUnit), ...between];
    }
    return [
      at(0, onPulse),
      at(1 / 2, rates.half),
      at(1 / 4, rates.quarter),
      at(3 / 4, rates.quarter),
      at(1 / 3, rates.firstTriplet),
      at(2 / 3, rates.lastTriplet),
    ];
  });
}

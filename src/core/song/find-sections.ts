import { PATTERN_COLOURS } from "../document/arrangement.ts";
import type { Bar } from "../time/index.ts";
import type { Cut } from "./change-patterns.ts";
import type { SongVoice } from "./song-voices.ts";

/** What a bar plays: its slots with how much each says of it. Sorted by key. */
interface BarContent {
  readonly keys: Int32Array;
  readonly weights: Float32Array;
  readonly total: number;
}

/** A stretch of the take that was found, and which part of the song it is: the same letter is the same part. */
export interface FoundSection extends Cut {
  /** 0 for A. */
  readonly part: number;
}

const PLACES_PER_QUARTER = 48;
/** Ghosts come and go from time to time; a bar is the same with or without them. By their places in `ROLES`. */
const ROLE_WEIGHTS = [0.25, 1, 1.2] as const;
const LONGEST_SECTION_BARS = 16;
/** What a cut costs, in bars that would be unlike their section. */
const COST_OF_CUT = 1;
/** Phrases are of four bars, or two; what a section costs more if it is not. */
const COST_OF_ODD_LENGTH = 1.2;
/** Sections that are alike from here on are the same part. */
const SAME_PART = 0.62;
const FILL_BARS = 1;
/** How much of the time it takes to read what the bars play. */
const READING_SHARE = 0.4;

/** Work in steps, each of which says how much is done, 0 to 1: whoever runs it may look elsewhere in between, or stop. */
type Steps<Result> = Generator<number, Result, void>;

/** What each bar of a take plays, from the slots that its hits were played for: two performances of one bar say the same. */
function* contentsOf(voices: readonly SongVoice[], bars: readonly Bar[], ppq: number): Steps<readonly BarContent[]> {
  const found = bars.map(() => new Map<number, number>());
  for (const [lane, { lane: own, hits, barStarts, settledBy }] of voices.entries()) {
    const { placed, roles: rolesOfLane } = settledBy(own.treatment);
    const roles = rolesOfLane();
    for (const [index, bar] of bars.entries()) {
      for (let row = barStarts[index]!; row < barStarts[index + 1]!; row++) {
        // A grace note says no more than its main hit.
        if (hits[row]!.isMuted || placed.mainRows[row] !== -1) continue;
        const place = Math.round(((placed.slotTicks[row]! - bar.startTick) / ppq) * PLACES_PER_QUARTER);
        const key = (Math.max(0, place) * voices.length + lane) | 0;
        const weight = ROLE_WEIGHTS[roles[row]!] ?? 1;
        found[index]!.set(key, Math.max(weight, found[index]!.get(key) ?? 0));
      }
    }
    yield (lane + 1) / voices.length;
  }
  return found.map((content) => {
    const sorted = [...content].sort(([a], [b]) => a - b);
    return {
      keys: Int32Array.from(sorted, ([key]) => key),
      weights: Float32Array.from(sorted, ([, weight]) => weight),
      total: sorted.reduce((sum, [, weight]) => sum + weight, 0),
    };
  });
}

/** How alike two bars are, 0 to 1. @source weighted Jaccard: Σ min / Σ max */
function likeness(a: BarContent, b: BarContent): number {
  if (a.total === 0 && b.total === 0) return 1;
  let shared = 0;
  for (let i = 0, j = 0; i < a.keys.length && j < b.keys.length; ) {
    const step = a.keys[i]! - b.keys[j]!;
    if (step === 0) shared += Math.min(a.weights[i++]!, b.weights[j++]!);
    else if (step < 0) i++;
    else j++;
  }
  return shared / (a.total + b.total - shared);
}

/**
 * Finds the sections of a take by what repeats: stretches whose bars are like one another, of four bars where nothing speaks against
 * it, each named by the part that it is. A single bar that is like no neighbour is a fill.
 * @returns stretches that cover every bar, in order
 * @source segmentation of least cost: Σ bars · (1 − mean likeness within) + the cost of each cut
 */
export function findSections(voices: readonly SongVoice[], bars: readonly Bar[], ppq: number): readonly FoundSection[] {
  const steps = seekSections(voices, bars, ppq);
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
  }
}

/** The same in steps, for takes that are long. */
export function* seekSections(
  voices: readonly SongVoice[],
  bars: readonly Bar[],
  ppq: number,
): Steps<readonly FoundSection[]> {
  const contents = yield* shareOf(contentsOf(voices, bars, ppq), 0, READING_SHARE);
  const stretches = yield* shareOf(cheapestStretches(contents), READING_SHARE, 1);
  const parts = partsOf(stretches, contents);
  const counts = new Map<number, number>();
  const total = new Map<number, number>();
  for (const part of parts) total.set(part, (total.get(part) ?? 0) + 1);
  return stretches.map(([firstBar, endBar], index) => {
    const part = parts[index]!;
    const time = (counts.get(part) ?? 0) + 1;
    counts.set(part, time);
    const letter = letterOf(part);
    const isFill = endBar - firstBar <= FILL_BARS && stretches.length > 1 && index > 0;
    const stem = isFill ? `Fill ${letter}` : `Part ${letter}`;
    const name = total.get(part)! > 1 ? `${stem} ${time}` : stem;
    return { name, part, colour: PATTERN_COLOURS[part % PATTERN_COLOURS.length]!, firstBar, endBar };
  });
}

/** Steps that are a part of a longer way. */
function* shareOf<Result>(steps: Steps<Result>, from: number, to: number): Steps<Result> {
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
    yield from + value * (to - from);
  }
}

function letterOf(part: number): string {
  const letter = String.fromCharCode(65 + (part % 26));
  return part < 26 ? letter : `${letterOf(Math.floor(part / 26) - 1)}${letter}`;
}

type Stretch = readonly [firstBar: number, endBar: number];

function* cheapestStretches(contents: readonly BarContent[]): Steps<readonly Stretch[]> {
  const count = contents.length;
  const costs = new Float64Array(count + 1).fill(Number.POSITIVE_INFINITY);
  const from = new Int32Array(count + 1);
  costs[0] = 0;
  for (let first = 0; first < count; first++) {
    // Grown bar by bar, so that each pair of neighbours within reach is compared once for each place of the first.
    let unlike = 0;
    for (let end = first + 1; end <= Math.min(count, first + LONGEST_SECTION_BARS); end++) {
      const added = contents[end - 1]!;
      for (let bar = first; bar < end - 1; bar++) unlike += 1 - likeness(contents[bar]!, added);
      const length = end - first;
      const pairs = (length * (length - 1)) / 2;
      const within = pairs === 0 ? 0 : length * (unlike / pairs);
      const cost = costs[first]! + within + COST_OF_CUT + oddness(length, end === count);
      if (cost < costs[end]!) {
        costs[end] = cost;
        from[end] = first;
      }
    }
    yield (first + 1) / count;
  }
  const stretches: Stretch[] = [];
  for (let end = count; end > 0; end = from[end]!) stretches.unshift([from[end]!, end]);
  return stretches;
}

function oddness(length: number, isLast: boolean): number {
  if (isLast || length % 8 === 0) return 0;
  if (length % 4 === 0) return COST_OF_ODD_LENGTH / 100;
  return length % 2 === 0 ? COST_OF_ODD_LENGTH / 2 : COST_OF_ODD_LENGTH;
}

/** Which part each stretch is: that of the first one that it is like, bar for bar. */
function partsOf(stretches: readonly Stretch[], contents: readonly BarContent[]): readonly number[] {
  const firsts: Stretch[] = [];
  return stretches.map((stretch) => {
    const known = firsts.findIndex((first) => likenessOfStretches(first, stretch, contents) >= SAME_PART);
    if (known !== -1) return known;
    firsts.push(stretch);
    return firsts.length - 1;
  });
}

function likenessOfStretches([a, aEnd]: Stretch, [b, bEnd]: Stretch, contents: readonly BarContent[]): number {
  const length = Math.max(aEnd - a, bEnd - b);
  const isLonger = length > 1.5 * Math.min(aEnd - a, bEnd - b) && Math.min(aEnd - a, bEnd - b) < 4;
  if (isLonger) return 0;
  // A longer one is compared with the shorter one over and over.
  let sum = 0;
  for (let bar = 0; bar < length; bar++) {
    sum += likeness(contents[a + (bar % (aEnd - a))]!, contents[b + (bar % (bEnd - b))]!);
  }
  return sum / length;
}

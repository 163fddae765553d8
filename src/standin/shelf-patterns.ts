import type { PatternKind } from "../core/pattern/index.ts";
import { type MidiFile, writeMidiFile } from "../core/smf/index.ts";
import { type Habits, perform } from "./perform.ts";
import { createRandom, type Random } from "./random.ts";
import { SHELF_STYLES, type ShelfStyle } from "./shelf-styles.ts";
import type { WrittenBar, WrittenPart } from "./written-part.ts";

// The patterns that the stand-in drummer has ready: written by rules from seeds, and played as a good drummer does. Two hands and two
// feet: what keeps time gives way to a crash, an open hat takes the place of a shut one, and a fill is played with both hands.

export interface ShelfPattern {
  readonly id: string;
  readonly name: string;
  readonly kind: PatternKind;
  readonly style: string;
  /** What it is looked for by. */
  readonly words: readonly string[];
  readonly part: WrittenPart;
  readonly seed: number;
}

/** From the sparsest to the fullest. */
const FULLNESSES = [0, 0.25, 0.5, 0.75, 1] as const;
const GROOVES_OF_EACH = 5;
const FIRST_SEED = 70_021;

const PLACES =
  "Quay Lantern Gangway Harbour Deck Cabin Tide Mooring Anchor Buoy Rudder Galley Mast Pier Channel Fog Signal Beacon Ferry Rope".split(
    " ",
  );
const THINGS =
  "walk waltz turn step lights bell crossing drift whistle steam wake knot morning supper watch parade letters stairs window engine tea song rain night corner".split(
    " ",
  );

/** All of them: the same ones in the same order, whenever they are asked for. */
export function shelfPatterns(): readonly ShelfPattern[] {
  const patterns: ShelfPattern[] = [];
  const add = (kind: PatternKind, style: string, write: (random: Random) => WrittenPart, words: readonly string[]) => {
    const at = patterns.length;
    const seed = FIRST_SEED + at * 101;
    const name = `${PLACES[at % PLACES.length]} ${THINGS[(at * 7 + Math.floor(at / PLACES.length)) % THINGS.length]}`;
    const part = write(createRandom(seed));
    const id = `${kind}-${name.toLowerCase().replaceAll(" ", "-")}-${at + 1}`;
    patterns.push({ id, name, kind, style, words, part: { ...part, title: name }, seed });
  };
  for (const [name, style] of Object.entries(SHELF_STYLES)) {
    for (const fullness of FULLNESSES) {
      for (let round = 0; round < GROOVES_OF_EACH; round++) {
        add("groove", name, (random) => writeGroove(style, fullness, random), style.words);
      }
    }
    for (const fullness of FULLNESSES) add("fill", name, (random) => writeFill(style, fullness, random), style.words);
    add("intro", name, (random) => writeIntro(style, random), style.words);
    add("ending", name, (random) => writeEnding(style, random), style.words);
    add("break", name, (random) => writeBreak(style, random), style.words);
  }
  return patterns;
}

const HABITS: Habits = {
  ppq: 480,
  voices: {
    any: { biasMs: 0, spreadMs: 4 },
    hat: { biasMs: -3, spreadMs: 4 },
    ride: { biasMs: -3, spreadMs: 4 },
    snare: { biasMs: 4, spreadMs: 4 },
  },
  wanderMs: 1,
  velocities: {
    ghost: { mean: 34, spread: 4 },
    stroke: { mean: 80, spread: 5 },
    accent: { mean: 110, spread: 4 },
  },
  doubleTriggerShare: 0,
  graceMs: 28,
};

/** A pattern as the stand-in drummer plays it. */
function playPattern({ part, seed }: ShelfPattern): MidiFile {
  return perform(part, HABITS, createRandom(seed + 1)).file;
}

export function bytesOfPattern(pattern: ShelfPattern): Uint8Array {
  return writeMidiFile(playPattern(pattern));
}

type Sign = "g" | "s" | "a" | "f" | "d";
type Steps = ReadonlyMap<number, Sign>;

const partOf = (style: ShelfStyle, random: Random, bars: readonly WrittenBar[]): WrittenPart => {
  const [slowest, fastest] = style.bpm;
  return {
    title: "",
    bpm: Math.round(slowest + random.uniform() * (fastest - slowest)),
    numerator: style.numerator,
    denominator: style.denominator,
    bars,
    ...(style.swing ? { swing: style.swing } : {}),
  };
};

function lineOf(steps: number, signs: Steps): string {
  return Array.from({ length: steps }, (_, step) => signs.get(step) ?? "-").join("");
}

/** The rows of a bar, without those that are silent; of two strokes that one hand cannot play at once the second gives way. */
function barOf(style: ShelfStyle, rows: Readonly<Record<string, Steps>>): WrittenBar {
  const bar: Record<string, string> = {};
  const hands = new Map<number, number>();
  for (const [row, signs] of Object.entries(rows)) {
    const isFoot = row === "kick" || row === "hat.foot";
    const kept = new Map(
      [...signs].filter(([step]) => {
        const busy = hands.get(step) ?? 0;
        if (isFoot) return true;
        if (busy >= 2) return false;
        hands.set(step, busy + 1);
        return true;
      }),
    );
    if (kept.size > 0) bar[row] = lineOf(style.steps, kept);
  }
  return bar;
}

const signsOf = (steps: readonly number[], sign: (step: number) => Sign): Steps =>
  new Map(steps.map((step) => [step, sign(step)]));

/** Of places that may be played the first so many of a fixed shuffle, so that fuller ones hold what sparser ones do. */
function someOf(places: readonly number[], share: number, random: Random): readonly number[] {
  const shuffled = places
    .map((place) => ({ place, at: random.uniform() }))
    .sort((a, b) => a.at - b.at)
    .map(({ place }) => place);
  return shuffled.slice(0, Math.round(places.length * share)).sort((a, b) => a - b);
}

/** How far apart what keeps time is: sparse ones on the beats, full ones on all that the style has. */
function timeOf({ timeSteps, steps, numerator }: ShelfStyle, fullness: number): readonly number[] {
  if (fullness >= 0.5) return timeSteps;
  const beat = steps / numerator;
  const coarse = fullness === 0 ? beat : Math.max(1, beat / 2);
  const thinned = timeSteps.filter((step) => step % coarse === 0);
  return thinned.length > 0 ? thinned : timeSteps;
}

function writeGroove(style: ShelfStyle, fullness: number, random: Random): WrittenPart {
  const kick = [...style.kickSteps, ...someOf(style.kickMaybe, fullness * 0.7, random)];
  const ghosts = someOf(style.ghostMaybe, fullness * 0.8, random).filter((step) => !style.backBeats.includes(step));
  const time = timeOf(style, fullness);
  const isOnRide = style.hand === "ride" || random.chance(0.2);
  const last = time.findLast((step) => step > style.steps * 0.75);
  const opensHats = !isOnRide && style.openSteps.length === 0 && last !== undefined && random.chance(0.45);
  const answerKick = kick.filter((step) => style.kickSteps.includes(step) || random.chance(0.6));
  const addsKick = someOf(
    style.kickMaybe.filter((step) => !answerKick.includes(step)),
    0.25,
    random,
  );
  const bars = [kick, [...answerKick, ...addsKick]].map((ownKick, index) => {
    const open = index === 1 && opensHats ? [last] : style.openSteps;
    return grooveBar(style, { kick: ownKick, ghosts, time, open, isOnRide });
  });
  return partOf(style, random, bars);
}

interface GroovePlan {
  readonly kick: readonly number[];
  readonly ghosts: readonly number[];
  readonly time: readonly number[];
  readonly open: readonly number[];
  readonly isOnRide: boolean;
}

function grooveBar(style: ShelfStyle, { kick, ghosts, time, open, isOnRide }: GroovePlan): WrittenBar {
  const beat = style.steps / style.numerator;
  const shut = time.filter((step) => !open.includes(step));
  // The off hand rests where the other one plays a ghost between, if time is kept on every step.
  return barOf(style, {
    [style.backBeat]: signsOf(style.backBeats, () => "a"),
    ...(isOnRide
      ? { ride: signsOf(shut, (step) => (step % beat === 0 ? "s" : "g")) }
      : { hat: signsOf(shut, (step) => (step % beat === 0 ? "s" : "g")) }),
    ...(!isOnRide && open.length > 0 ? { "hat.open": signsOf(open, () => "s") } : {}),
    ...(isOnRide ? { "hat.foot": signsOf(style.backBeats.length > 0 ? style.backBeats : [beat], () => "s") } : {}),
    ...(ghosts.length > 0 ? { snare: new Map([...signsOf(ghosts, () => "g"), ...backBeatsOn(style)]) } : {}),
    kick: signsOf(kick, (step) => (step === 0 ? "a" : "s")),
  });
}

/** Ghosts and back-beats share a row where both are on the head of the snare. */
function backBeatsOn({ backBeat, backBeats }: ShelfStyle): Steps {
  return backBeat === "snare" ? signsOf(backBeats, () => "a") : new Map();
}

/** Time for the first part of a bar, and then the drums from high to low, growing, so that they lead into the next bar. */
function writeFill(style: ShelfStyle, fullness: number, random: Random): WrittenPart {
  const { steps, numerator } = style;
  const beat = steps / numerator;
  const from = Math.round(numerator * (1 - (0.3 + 0.5 * fullness))) * beat;
  const places = Array.from({ length: steps - from }, (_, index) => from + index);
  // The last beat is always played: it leads over.
  const struck = places.filter(
    (step) => step % beat === 0 || step >= steps - beat || random.chance(0.45 + 0.5 * fullness),
  );
  const drums = ["snare", "tom-2", "tom-5"] as const;
  const rows: Record<(typeof drums)[number], Map<number, Sign>> = {
    snare: new Map(),
    "tom-2": new Map(),
    "tom-5": new Map(),
  };
  for (const step of struck) {
    const share = (step - from) / Math.max(1, steps - from);
    const drum = drums[Math.min(2, Math.floor(share * 3))]!;
    rows[drum].set(step, step % beat === 0 ? "a" : share < 0.3 && random.chance(0.2) ? "g" : "s");
  }
  const before = timeOf(style, 0.5).filter((step) => step < from);
  for (const step of style.backBeats.filter((one) => one < from)) rows.snare.set(step, "a");
  return partOf(style, random, [
    barOf(style, {
      ...rows,
      hat: signsOf(before, (step) => (step % beat === 0 ? "s" : "g")),
      kick: signsOf([...new Set([0, ...style.kickSteps.filter((step) => step < from)])], () => "a"),
    }),
  ]);
}

/** Two bars that build up: time alone, then the kick, and strokes into the first beat. */
function writeIntro(style: ShelfStyle, random: Random): WrittenPart {
  const { steps, numerator } = style;
  const beat = steps / numerator;
  const time = timeOf(style, random.chance(0.5) ? 0.25 : 0.5);
  const beats = Array.from({ length: numerator }, (_, index) => index * beat);
  const pickUp = someOf(
    Array.from({ length: beat }, (_, index) => steps - beat + index),
    0.75,
    random,
  );
  const hat = signsOf(time, (step) => (step % beat === 0 ? "s" : "g"));
  return partOf(style, random, [
    barOf(style, { hat }),
    barOf(style, {
      snare: signsOf(pickUp, (step) => (step % beat === 0 ? "a" : "s")),
      hat: new Map([...hat].filter(([step]) => step < steps - beat)),
      kick: signsOf(
        beats.filter((_, index) => index % 2 === 0),
        () => "s",
      ),
    }),
  ]);
}

/** A bar that slows in strokes and a last one that rings. */
function writeEnding(style: ShelfStyle, random: Random): WrittenPart {
  const { steps, numerator } = style;
  const beat = steps / numerator;
  const half = Math.ceil(numerator / 2) * beat;
  const run = someOf(
    Array.from({ length: steps - half }, (_, index) => half + index),
    0.6,
    random,
  );
  return partOf(style, random, [
    barOf(style, {
      snare: signsOf(
        style.backBeats.filter((step) => step < half),
        () => "a",
      ),
      "tom-2": signsOf(
        run.filter((step) => step < (half + steps) / 2),
        () => "s",
      ),
      "tom-5": signsOf(
        run.filter((step) => step >= (half + steps) / 2),
        () => "s",
      ),
      hat: signsOf(
        timeOf(style, 0.5).filter((step) => step < half),
        (step) => (step % beat === 0 ? "s" : "g"),
      ),
      kick: signsOf(style.kickSteps, () => "a"),
    }),
    barOf(style, { crash: new Map([[0, "a"]]), kick: new Map([[0, "a"]]) }),
  ]);
}

/** A stop: one stroke together, and hats or a kick that keep the time. */
function writeBreak(style: ShelfStyle, random: Random): WrittenPart {
  const { steps, numerator } = style;
  const beat = steps / numerator;
  const beats = Array.from({ length: numerator }, (_, index) => index * beat);
  const keeps = random.chance(0.5);
  return partOf(style, random, [
    barOf(style, {
      crash: new Map([[0, "a"]]),
      snare: signsOf([steps - beat, ...someOf([steps - Math.ceil(beat / 2)], 1, random)], () => "s"),
      ...(keeps ? { "hat.foot": signsOf(beats, () => "s") } : {}),
      kick: signsOf(keeps ? [0] : [0, ...someOf(style.kickMaybe, 0.3, random)], () => "a"),
    }),
  ]);
}

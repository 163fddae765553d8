import { createRandom, type Random } from "../../src/standin/random.ts";
import { type Hand, type Manner, type Note, type PlayedTake, written } from "../written/player.ts";
import { type DrawnPart, type DrawnStroke, drawPart } from "./draw-part.ts";
import { withPadFaults } from "./pad-faults.ts";

// Another player than that of the written parts. Its time goes up and down slowly and quickly at once, as people's does; a limb makes good
// half of what it was off by before; choruses are pushed; hats lean; ghosts come late; and files are as coarse as 96 ticks a quarter.

export const DRAWN_HANDS = ["tight", "normal", "loose"] as const satisfies readonly Hand[];
export type DrawnHand = (typeof DRAWN_HANDS)[number];

/** In ms: how far the whole goes up and down, a stroke is off, limbs sit off one another, and choruses are pushed. */
const LOOSENESS: Readonly<Record<DrawnHand, { whole: number; stroke: number; habit: number; push: number }>> = {
  tight: { whole: 1.5, stroke: 2.5, habit: 3, push: 2 },
  normal: { whole: 4, stroke: 6, habit: 6, push: 5 },
  loose: { whole: 7, stroke: 13, habit: 9, push: 9 },
};

const NOTES: Readonly<Record<string, number>> = {
  k: 36,
  s: 38,
  xs: 37,
  h: 42,
  f: 44,
  o: 46,
  r: 51,
  c1: 49,
  c2: 57,
  t1: 50,
  t2: 48,
  t3: 45,
  ft: 41,
};
const limbOf = (drum: string) =>
  drum === "k" || drum === "f" ? drum : ["s", "xs", "t1"].includes(drum) ? "left" : "right";
const VELOCITIES = { ghost: [34, 6], normal: [78, 8], accent: [108, 8] } as const;
/** How long its goings up and down last: each forgets so much from one quarter to the next. */
const MEMORIES = [0.5, 0.9, 0.98];
const MADE_GOOD = 0.3;

/**
 * Draws a part and plays it. The same number and hand give the same take.
 * @param hasPadFaults whether it is picked up by pads that have faults
 */
export function playDrawn(number: number, hand: DrawnHand, hasPadFaults = false): PlayedTake {
  const random = createRandom(number * 7919 + hand.length);
  const part = drawPart(number, random);
  const { style, barQuarters, bars } = part;
  const between = (low: number, high: number) => low + (high - low) * random.uniform();
  const latencyMs = random.chance(0.5) ? between(-110, 130) : 0;
  const manner: Manner = {
    hand,
    bpm: Math.round(between(...style.bpm)),
    ppq: [96, 240, 480, 960][Math.floor(random.uniform() * 4)]!,
    leadBars: latencyMs < 0 ? 1 + Math.floor(random.uniform() * 2) : Math.floor(random.uniform() * 3),
    latencyMs,
    swingPercent: style.swing && between(...style.swing),
    doubleShare: 0,
    talkShare: 0,
    isNarrow: false,
    otherInstruments: false,
  };
  const leadQuarters = manner.leadBars * barQuarters;
  const offOf = offsOf(part, hand, random);
  const msPerQuarter = 60_000 / manner.bpm;
  const notes = part.strokes.flatMap((stroke): Note[] => {
    const meant = stroke.quarter + swungBy(stroke, part, manner) + leadQuarters;
    const ms = meant * msPerQuarter + offOf(stroke) + latencyMs;
    const [middle, spread] = VELOCITIES[stroke.loudness];
    const velocity = limited(middle + random.bell(spread));
    const { drum, loudness: role, isTuplet, isRoll, isSwung, isInFill } = stroke;
    const truth = { kind: "hit", tick: meant * manner.ppq, drum, role, isTuplet, isRoll, isSwung, isInFill } as const;
    const note = NOTES[drum]!;
    if (!stroke.isFlam) return [{ ms, note, velocity, truth }];
    const grace = { ...truth, kind: "grace", role: "ghost" } as const;
    return [
      { ms: ms - between(20, 36), note, velocity: limited(0.4 * velocity), truth: grace },
      { ms, note, velocity, truth },
    ];
  });
  const heard = hasPadFaults ? withPadFaults(notes, number) : notes;
  return { title: style.name, manner, ...written({ bars }, manner, heard, leadQuarters, random) };
}

const limited = (velocity: number) => Math.max(1, Math.min(127, Math.round(velocity)));

function swungBy({ isSwung }: DrawnStroke, { style, barQuarters }: DrawnPart, { swingPercent }: Manner): number {
  return isSwung && swingPercent !== null ? ((barQuarters / style.stepsOfBar) * (swingPercent - 50)) / 50 : 0;
}

/** How far each stroke is off, in ms, asked in the order in which they are played. */
function offsOf({ bars, barQuarters, sectionBars }: DrawnPart, hand: DrawnHand, random: Random) {
  const { whole, stroke: strokeMs, habit, push } = LOOSENESS[hand];
  const wholeMs = wandering(bars.length * barQuarters + 2, whole, random);
  const habitMs = new Map(["k", "f", "left", "right"].map((limb) => [limb, random.bell(habit)]));
  const leanMs = random.chance(0.3) ? random.uniform() * (hand === "tight" ? 3 : 6) : 0;
  const pushMs = random.bell(push);
  const before = new Map<string, number>();
  return ({ quarter, drum, loudness, isInFill, isSwung }: DrawnStroke): number => {
    const limb = limbOf(drum);
    const drawn = random.bell(strokeMs);
    const own = drawn - MADE_GOOD * (before.get(limb) ?? 0);
    before.set(limb, drawn);
    const at = Math.floor(quarter);
    const wholeHere = wholeMs[at]! + (wholeMs[at + 1]! - wholeMs[at]!) * (quarter - at);
    const isChorus = Math.floor(quarter / barQuarters / sectionBars) % 4 === 1;
    // Of what swings, nobody could tell the two apart.
    const leans = drum === "h" && !isSwung && Math.abs((quarter % 1) - 0.5) < 1e-6;
    const inBar = (quarter % barQuarters) / barQuarters;
    return (
      wholeHere +
      habitMs.get(limb)! +
      own +
      (leans ? leanMs : 0) +
      (isChorus ? pushMs : 0) +
      (loudness === "ghost" ? 0.15 * strokeMs : 0) -
      (isInFill ? 0.6 * push * inBar : 0)
    );
  };
}

/** What goes up and down slowly and quickly at once, by quarters. */
function wandering(length: number, spread: number, random: Random): Float64Array {
  const all = new Float64Array(Math.ceil(length));
  for (const memory of MEMORIES) {
    let at = random.bell(1);
    for (let quarter = 0; quarter < all.length; quarter++) {
      at = memory * at + Math.sqrt(1 - memory * memory) * random.bell(1);
      all[quarter]! += (spread * at) / Math.sqrt(MEMORIES.length);
    }
  }
  return all;
}

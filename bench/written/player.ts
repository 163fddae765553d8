import { META, type MidiFile, type MidiMessage, writeText } from "../../src/core/smf/index.ts";
import { createRandom, type Random } from "../../src/standin/random.ts";
import type { Loudness, WrittenPart, WrittenStroke } from "./read-parts.ts";

// A player of written parts, made without the stand-in drummer: its time wanders by itself, each limb wanders within it, fills hurry,
// arms tire, and what picks the strokes up has faults of its own.

export const HANDS = ["tight", "normal", "loose", "fingers", "sequenced"] as const;
export type Hand = (typeof HANDS)[number];

/** What one take is played with. */
export interface Manner {
  readonly hand: Hand;
  readonly bpm: number;
  readonly ppq: number;
  /** Empty bars before the part begins. */
  readonly leadBars: number;
  readonly latencyMs: number;
  /** A sequenced part may be played ahead as a whole; the same as a latency, but meant. */
  readonly swingPercent: number | null;
  readonly doubleShare: number;
  /** Pads that pick up the snare and the kick. */
  readonly talkShare: number;
  /** All loudness between 60 and 110. */
  readonly isNarrow: boolean;
  readonly otherInstruments: boolean;
}

export interface TrueStroke {
  /** `track:message` of its note-on. */
  readonly id: string;
  readonly kind: "hit" | "grace" | "double" | "crossTalk";
  /** Where it was meant, in ticks of the file; of a grace note, where its main stroke was. */
  readonly tick: number;
  readonly drum: string;
  readonly role: Loudness;
  /** Of a step that is no eighth or sixteenth of its beat. */
  readonly isTuplet: boolean;
  readonly isRoll: boolean;
  readonly isSwung: boolean;
  readonly isInFill: boolean;
}

export interface PlayedTake {
  readonly title: string;
  readonly manner: Manner;
  readonly file: MidiFile;
  readonly truth: readonly TrueStroke[];
}

/** In ms: how far the whole wanders, each limb, each stroke, and the habits of limbs. */
const LOOSENESS: Readonly<Record<Hand, { whole: number; limb: number; stroke: number; habit: number; hurry: number }>> =
  {
    tight: { whole: 1.5, limb: 1.2, stroke: 2.5, habit: 2.5, hurry: 3 },
    normal: { whole: 4, limb: 3, stroke: 6, habit: 6, hurry: 9 },
    loose: { whole: 8, limb: 7, stroke: 13, habit: 10, hurry: 18 },
    fingers: { whole: 5, limb: 7, stroke: 16, habit: 6, hurry: 8 },
    sequenced: { whole: 0, limb: 0, stroke: 0, habit: 0, hurry: 0 },
  };

/** Which limb plays a drum, and which note it sends. */
const DRUMS: Readonly<Record<string, { readonly limb: "right" | "left" | "foot" | "hatFoot"; readonly note: number }>> =
  {
    hh: { limb: "right", note: 42 },
    ho: { limb: "right", note: 46 },
    hf: { limb: "hatFoot", note: 44 },
    rd: { limb: "right", note: 51 },
    rb: { limb: "right", note: 53 },
    c1: { limb: "right", note: 49 },
    sn: { limb: "left", note: 38 },
    xs: { limb: "left", note: 37 },
    t1: { limb: "left", note: 48 },
    t2: { limb: "right", note: 45 },
    ft: { limb: "right", note: 43 },
    k: { limb: "foot", note: 36 },
  };

const DRUM_STATUS = 0x99;
const NOTE_MS = 35;

/** What is struck, with what it was meant to be. */
export interface Note {
  readonly ms: number;
  readonly note: number;
  readonly velocity: number;
  readonly truth: Omit<TrueStroke, "id">;
}

/** A value that wanders around 0 and forgets where it was. */
function wander(random: Random, spread: number, memory: number): () => number {
  let at = random.bell(spread);
  return () => {
    at = memory * at + random.bell(spread * Math.sqrt(1 - memory * memory));
    return at;
  };
}

/** Draws up how a part is played by a hand. */
export function drawManner(part: WrittenPart, hand: Hand, random: Random): Manner {
  const between = (low: number, high: number) => low + (high - low) * random.uniform();
  const isLate = hand !== "sequenced" && random.chance(0.4);
  const latencyMs = isLate ? (random.chance(0.5) ? 1 : -1) * between(15, 150) : 0;
  const ahead = hand === "sequenced" && random.chance(0.5) ? -between(14, 20) : 0;
  return {
    hand,
    bpm: Math.round(between(...part.bpm)),
    ppq: [192, 480, 960][Math.floor(random.uniform() * 3)]!,
    leadBars: latencyMs + ahead < 0 ? 1 + Math.floor(random.uniform() * 2) : Math.floor(random.uniform() * 3),
    latencyMs: latencyMs + ahead,
    swingPercent: part.swing ? Math.round(between(...part.swing.percent) * 10) / 10 : null,
    doubleShare: random.chance(0.3) ? between(0.01, 0.05) : 0,
    talkShare: random.chance(0.3) ? between(0.3, 0.9) : 0,
    isNarrow: random.chance(0.2),
    otherInstruments: random.chance(0.25),
  };
}

/** Plays a written part. The same seed gives the same take. */
export function play(part: WrittenPart, manner: Manner, seed: number): PlayedTake {
  const random = createRandom(seed);
  const { hand, bpm, ppq, leadBars, latencyMs } = manner;
  const looseness = LOOSENESS[hand];
  const msPerQuarter = 60_000 / bpm;
  const first = part.bars[0]!;
  const leadQuarters = leadBars * ((4 * first.numerator) / first.denominator);
  const whole = wander(random, looseness.whole, 0.88);
  const wholeAt = Array.from({ length: Math.ceil(part.lengthQuarters) + 1 }, whole);
  const driftMs = looseness.whole * 0.8 * random.bell(1);
  const limbs = Object.fromEntries(
    ["right", "left", "foot", "hatFoot"].map((limb) => [
      limb,
      { habitMs: random.bell(looseness.habit), next: wander(random, looseness.limb, 0.6) },
    ]),
  );
  const hurryMs = looseness.hurry * (0.4 + random.uniform());
  const rolls = rollStrokes(part.strokes, msPerQuarter);
  const notes = part.strokes.flatMap((stroke): Note[] => {
    const { note, limb } = DRUMS[stroke.drum]!;
    const { habitMs, next } = limbs[limb]!;
    const share = stroke.quarter / part.lengthQuarters;
    const meantQuarter = swung(stroke, part, manner) + leadQuarters;
    const tired = 1 + 0.3 * share;
    const offMs =
      wholeAt[Math.floor(stroke.quarter)]! +
      driftMs * Math.sin(3 * share) +
      habitMs +
      tired * (next() + random.bell(looseness.stroke) * (rolls.has(stroke) ? 0.6 : 1)) -
      hurryMs * stroke.throughFill;
    const ms = meantQuarter * msPerQuarter + offMs + latencyMs;
    const velocity = loudnessOf(stroke.loudness, limb, manner, random);
    const truth: Omit<TrueStroke, "id"> = {
      kind: "hit",
      tick: meantQuarter * ppq,
      drum: stroke.drum,
      role: stroke.loudness,
      isTuplet: isTuplet(stroke),
      isRoll: rolls.has(stroke),
      isSwung: meantQuarter - leadQuarters !== stroke.quarter,
      isInFill: stroke.throughFill > 0,
    };
    return [
      { ms, note, velocity, truth },
      ...graces(stroke, ms, velocity, note, truth, random),
      ...faults(stroke, ms, velocity, note, truth, manner, random),
    ];
  });
  return { title: part.title, manner, ...written(part, manner, notes, leadQuarters, random) };
}

function isTuplet({ stepsOfBeat, beatQuarters }: WrittenStroke): boolean {
  const perQuarter = stepsOfBeat / beatQuarters;
  return Math.abs(Math.log2(perQuarter) - Math.round(Math.log2(perQuarter))) > 1e-6;
}

function swung(stroke: WrittenStroke, { swing }: WrittenPart, { swingPercent }: Manner): number {
  const { quarter, stepsOfBeat, isStraight } = stroke;
  if (!swing || swingPercent === null || isStraight || stepsOfBeat !== swing.denominator / 4) return quarter;
  const steps = (quarter * swing.denominator) / 4;
  const isSecond = Math.abs(steps - Math.round(steps)) < 1e-6 && Math.round(steps) % 2 === 1;
  return isSecond ? quarter + ((4 / swing.denominator) * (swingPercent - 50)) / 50 : quarter;
}

/** Strokes of a drum in runs of at least four that are nearer than a tenth of a second. */
function rollStrokes(strokes: readonly WrittenStroke[], msPerQuarter: number): ReadonlySet<WrittenStroke> {
  const rolls = new Set<WrittenStroke>();
  for (const drum of Object.keys(DRUMS)) {
    const own = strokes.filter((stroke) => stroke.drum === drum);
    for (let start = 0, end = 0; start < own.length; start = end) {
      for (
        end = start + 1;
        end < own.length && (own[end]!.quarter - own[end - 1]!.quarter) * msPerQuarter < 100;
        end++
      );
      if (end - start >= 4) for (const stroke of own.slice(start, end)) rolls.add(stroke);
    }
  }
  return rolls;
}

const LOUDNESS: Readonly<Record<Loudness, readonly [number, number]>> = {
  ghost: [30, 7],
  normal: [74, 9],
  accent: [106, 9],
};

function loudnessOf(loudness: Loudness, limb: string, { isNarrow, hand }: Manner, random: Random): number {
  const [middle, spread] = LOUDNESS[loudness];
  const level = limb === "hatFoot" ? middle * 0.7 : limb === "right" ? middle * 0.88 : middle;
  const even = hand === "sequenced" ? 0 : random.bell(spread);
  return limited(isNarrow ? 45 + 0.6 * level + even * 0.6 : level + even);
}

const limited = (velocity: number) => Math.max(1, Math.min(127, Math.round(velocity)));

function graces(
  { graceCount }: WrittenStroke,
  ms: number,
  velocity: number,
  note: number,
  truth: Note["truth"],
  random: Random,
): Note[] {
  const apartMs = graceCount === 1 ? 22 + 16 * random.uniform() : 30 + 12 * random.uniform();
  return Array.from({ length: graceCount }, (_, index) => ({
    ms: ms - (index + 1) * apartMs + random.bell(2),
    note,
    velocity: limited(velocity * 0.35 + random.bell(5)),
    truth: { ...truth, kind: "grace" as const, role: "ghost" as const },
  }));
}

function faults(
  { drum, loudness }: WrittenStroke,
  ms: number,
  velocity: number,
  note: number,
  truth: Note["truth"],
  { doubleShare, talkShare }: Manner,
  random: Random,
): Note[] {
  const notes: Note[] = [];
  if (loudness === "ghost") return notes;
  if (["sn", "k", "t1", "t2", "ft"].includes(drum) && random.chance(doubleShare)) {
    const after = 14 + 22 * random.uniform();
    notes.push({
      ms: ms + after,
      note,
      velocity: limited(velocity * (0.15 + 0.25 * random.uniform())),
      truth: { ...truth, kind: "double" },
    });
  }
  const victim = drum === "sn" ? 48 : drum === "k" ? 43 : null;
  if (victim !== null && loudness === "accent" && random.chance(talkShare)) {
    const talk = limited(velocity * (0.07 + 0.1 * random.uniform()));
    notes.push({ ms: ms + 4 * random.uniform(), note: victim, velocity: talk, truth: { ...truth, kind: "crossTalk" } });
  }
  return notes;
}

/** The file of a take that is played, with the truth of it. */
export function written(
  part: Pick<WrittenPart, "bars">,
  { bpm, ppq, otherInstruments }: Manner,
  notes: readonly Note[],
  leadQuarters: number,
  random: Random,
): Pick<PlayedTake, "file" | "truth"> {
  const msPerTick = 60_000 / bpm / ppq;
  const items: { readonly message: MidiMessage; readonly truth?: Note["truth"] }[] = [];
  const meta = (tick: number, metaType: number, data: Uint8Array): MidiMessage => ({
    kind: "meta",
    tick,
    metaType,
    data,
  });
  const channel = (tick: number, status: number, data1: number, data2: number): MidiMessage => ({
    kind: "channel",
    tick,
    status,
    data1,
    data2,
  });
  for (const { ms, note, velocity, truth } of notes) {
    const tick = Math.max(0, Math.round(ms / msPerTick));
    items.push({ message: channel(tick, DRUM_STATUS, note, velocity), truth });
    items.push({ message: channel(tick + Math.round(NOTE_MS / msPerTick), DRUM_STATUS, note, 0) });
  }
  if (otherInstruments) {
    // A bass in the same track, on a channel of its own.
    for (const bar of part.bars) {
      const tick = Math.max(0, Math.round((bar.startQuarter + leadQuarters) * ppq + (random.bell(9) + 20) / msPerTick));
      items.push({ message: channel(tick, 0x91, 36 + Math.floor(12 * random.uniform()), 90) });
      items.push({ message: channel(tick + ppq, 0x81, 36, 0) });
    }
  }
  items.sort((a, b) => a.message.tick - b.message.tick);
  const us = Math.round(60_000_000 / bpm);
  const head: MidiMessage[] = [meta(0, META.tempo, Uint8Array.of(us >> 16, (us >> 8) & 0xff, us & 0xff))];
  let before = "";
  for (const { startQuarter, numerator, denominator } of part.bars) {
    if (before === `${numerator}/${denominator}`) continue;
    const tick = startQuarter === 0 ? 0 : Math.round((startQuarter + leadQuarters) * ppq);
    head.push(meta(tick, META.meter, Uint8Array.of(numerator, Math.log2(denominator), 24, 8)));
    before = `${numerator}/${denominator}`;
  }
  const kit = [{ message: meta(0, META.trackName, writeText("Take")), truth: undefined }, ...items];
  const file: MidiFile = {
    format: 1,
    division: { kind: "ppq", ppq },
    headerExtra: new Uint8Array(0),
    unknownChunks: [],
    tracks: [{ messages: head }, { messages: kit.map(({ message }) => message) }],
  };
  const truth = kit.flatMap(({ truth: own }, index) => (own ? [{ id: `1:${index}`, ...own }] : []));
  return { file, truth };
}

import type { GrooveSlot } from "../src/core/document/index.ts";
import { importTake } from "../src/core/file/index.ts";
import { feelOf, type GrooveNumbers, makeLayer, PLAIN_NUMBERS, takeGroove } from "../src/core/groove/index.ts";
import { GENERAL_MIDI } from "../src/core/notemap/index.ts";
import { siftLanesOf } from "../src/core/sift/index.ts";
import { META, type MidiMessage, writeMidiFile } from "../src/core/smf/index.ts";
import { buildTimeMaps } from "../src/core/time/index.ts";
import { createRandom, type Random } from "../src/standin/random.ts";

const PPQ = 960;
const SPREAD_MS = 10;
const VELOCITY = 84;
const VELOCITY_SPREAD = 6;
const HAT = 42;
const LENGTHS_BARS = [2, 4, 8, 16, 32] as const;
const TAKES_OF_EACH = 10;
/** So many people play music at. */
const [SLOWEST_BPM, FASTEST_BPM] = [80, 130];

export interface GrooveScore {
  readonly bars: number;
  /** How far what was taken is from what was meant: on average over the places of a take. */
  readonly offsetErrorMs: number;
  readonly accentErrorPercent: number;
  readonly swingError: number;
}

/** Plays hats of a known feel with a spread of 10 ms a hit, imports them without any hint, and takes their groove. */
export function scoreGrooves(seed: number): readonly GrooveScore[] {
  return LENGTHS_BARS.flatMap((bars) =>
    Array.from({ length: TAKES_OF_EACH }, (_, take) =>
      scoreOne(bars, createRandom(seed * 7919 + bars * 104_729 + take * 613)),
    ),
  );
}

function scoreOne(bars: number, random: Random): GrooveScore {
  const bpm = Math.round(SLOWEST_BPM + random.uniform() * (FASTEST_BPM - SLOWEST_BPM));
  const numbers: GrooveNumbers = {
    ...PLAIN_NUMBERS,
    swingPercent: 50 + Math.round(random.uniform() * 10),
    pushPercent: (random.uniform() * 2 - 1) * 8,
    weakPercent: 10 + random.uniform() * 25,
  };
  const { slots } = makeLayer(numbers);
  const stepMs = 60_000 / bpm / 4;
  const { pattern } = importTake(played(bars, slots, bpm, random), GENERAL_MIDI);
  const maps = buildTimeMaps(pattern);
  const wish = { grid: numbers.grid, lengthQuarters: 4, isByFamily: false, among: null, side: "recorded" } as const;
  const [layer] = takeGroove(siftLanesOf(pattern, maps), wish, maps);
  const meanAccent = slots.reduce((sum, { accent }) => sum + accent, 0) / slots.length;
  const mean = (errorOf: (found: GrooveSlot, meant: GrooveSlot) => number) =>
    slots.reduce((sum, meant, slot) => sum + Math.abs(errorOf(layer!.slots[slot]!, meant)), 0) / slots.length;
  return {
    bars,
    offsetErrorMs: mean((found, meant) => (found.offset - meant.offset) * stepMs),
    accentErrorPercent: mean((found, meant) => 100 * (found.accent - meant.accent / meanAccent)),
    swingError: Math.abs(feelOf(layer!, stepMs).swingPercent - numbers.swingPercent),
  };
}

/** A file of sixteenths on a hat, after a bar of rest, so that the first of them can be early. */
function played(bars: number, slots: readonly GrooveSlot[], bpm: number, random: Random): Uint8Array {
  const msPerTick = 60_000 / bpm / PPQ;
  const stepMs = 60_000 / bpm / 4;
  const notes = Array.from({ length: bars * slots.length }, (_, index): readonly MidiMessage[] => {
    const { offset, accent } = slots[index % slots.length]!;
    const ms = (index + offset) * stepMs + random.bell(SPREAD_MS);
    const tick = 4 * PPQ + Math.round(ms / msPerTick);
    const data2 = Math.max(1, Math.min(127, Math.round(VELOCITY * accent + random.bell(VELOCITY_SPREAD))));
    return [
      { kind: "channel", tick, status: 0x99, data1: HAT, data2 },
      { kind: "channel", tick: tick + 40, status: 0x89, data1: HAT, data2: 0 },
    ];
  });
  const usPerQuarter = Math.round(60_000_000 / bpm);
  const data = Uint8Array.of(usPerQuarter >> 16, (usPerQuarter >> 8) & 0xff, usPerQuarter & 0xff);
  const messages: readonly MidiMessage[] = [
    { kind: "meta", tick: 0, metaType: META.tempo, data },
    ...notes.flat().toSorted((a, b) => a.tick - b.tick),
  ];
  return writeMidiFile({
    format: 0,
    division: { kind: "ppq", ppq: PPQ },
    tracks: [{ messages }],
    unknownChunks: [],
    headerExtra: new Uint8Array(),
  });
}

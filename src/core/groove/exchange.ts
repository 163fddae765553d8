import { type Groove, LONGEST_GROOVE_QUARTERS } from "../document/groove.ts";
import type { Family, Pattern } from "../document/index.ts";
import { siftLanesOf } from "../sift/index.ts";
import { META, type MidiMessage, writeMidiFile, writeText } from "../smf/index.ts";
import { barAt, buildTimeMaps, type Grid, gridStepTicks, handGridAt, withSwingShare } from "../time/index.ts";
import { takeGroove } from "./take-groove.ts";

const PPQ = 960;
const DRUM_CHANNEL = 9;
/** The note of General MIDI that stands for each family; what all drums follow is written as hats. */
const NOTES: Readonly<Record<Family, number>> = {
  cymbals: 51,
  hats: 42,
  snare: 38,
  toms: 45,
  kick: 36,
  percussion: 39,
};
const MEAN_VELOCITY = 84;
const NOTE_TICKS = 60;

/**
 * A groove as a part whose timing and loudness are the groove: one hit on each of its places, a bar of rest before it, so that the
 * first of them can be early.
 * @param bpm a groove has none of its own: its offsets are shares of a step
 */
export function grooveToMidi({ name, grid, lengthQuarters, layers }: Groove, bpm: number): Uint8Array {
  const stepTicks = gridStepTicks(grid, PPQ);
  const restTicks = 4 * PPQ * Math.ceil(lengthQuarters / 4);
  const notes = layers.flatMap(({ family, slots }) =>
    slots.flatMap(({ offset, accent }, slot): readonly MidiMessage[] => {
      const tick = restTicks + Math.round((slot + offset) * stepTicks);
      const data1 = NOTES[family ?? "hats"];
      const data2 = Math.max(1, Math.min(127, Math.round(MEAN_VELOCITY * accent)));
      return [
        { kind: "channel", tick, status: 0x90 | DRUM_CHANNEL, data1, data2 },
        { kind: "channel", tick: tick + NOTE_TICKS, status: 0x80 | DRUM_CHANNEL, data1, data2: 0 },
      ];
    }),
  );
  const usPerQuarter = Math.round(60_000_000 / bpm);
  const tempo = Uint8Array.of(usPerQuarter >> 16, (usPerQuarter >> 8) & 0xff, usPerQuarter & 0xff);
  const messages: readonly MidiMessage[] = [
    { kind: "meta", tick: 0, metaType: META.trackName, data: writeText(name) },
    { kind: "meta", tick: 0, metaType: META.tempo, data: tempo },
    ...notes.toSorted((a, b) => a.tick - b.tick),
  ];
  return writeMidiFile({
    format: 0,
    division: { kind: "ppq", ppq: PPQ },
    tracks: [{ messages }],
    unknownChunks: [],
    headerExtra: new Uint8Array(),
  });
}

/** What a pattern says of a groove. */
export interface FoundGroove {
  readonly groove: Omit<Groove, "id" | "name">;
  /** What a person should know of it, in words. */
  readonly notices: readonly string[];
}

/**
 * The groove of all that is played in a pattern: over a bar of its first meter, in the steps of its busiest voice, one layer for each
 * family, or one for all if it is only one.
 * @returns null if nothing is played in it
 */
export function grooveOfPattern(pattern: Pattern): FoundGroove | null {
  const maps = buildTimeMaps(pattern);
  const lanes = siftLanesOf(pattern, maps);
  const [busiest] = lanes.toSorted((a, b) => b.hits.length - a.hits.length);
  if (!busiest || busiest.hits.length === 0) return null;
  const grid: Grid = withSwingShare(handGridAt(busiest.treatment.timing, busiest.cleaned.slotTicks[0] ?? 0), 0);
  const bar = barAt(maps.meterMap, 0);
  const lengthQuarters = Math.min(LONGEST_GROOVE_QUARTERS, (bar.endTick - bar.startTick) / pattern.ppq);
  const wish = { grid, lengthQuarters, among: null, side: "recorded" } as const;
  const byFamily = takeGroove(lanes, { ...wish, isByFamily: true }, maps);
  const layers = byFamily.length > 1 ? byFamily : takeGroove(lanes, { ...wish, isByFamily: false }, maps);
  if (layers.length === 0) return null;
  const meters = new Set(maps.meterMap.segments.map(({ meter }) => `${meter.numerator}/${meter.denominator}`));
  const hitCount = layers.reduce((sum, { slots }) => sum + slots.reduce((own, slot) => own + slot.hitCount, 0), 0);
  return {
    groove: { lengthQuarters, grid, layers },
    notices: [
      ...(meters.size > 1
        ? [`It has ${meters.size} meters; the groove is a bar of the first, ${[...meters][0]}.`]
        : []),
      ...(hitCount < 8 ? [`It was learned from ${hitCount} ${hitCount === 1 ? "hit" : "hits"} only.`] : []),
    ],
  };
}

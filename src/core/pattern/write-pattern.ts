import { META, type MidiMessage, writeMidiFile, writeText } from "../smf/index.ts";
import { endOf, type Rhythm, type RhythmStroke } from "./rhythm.ts";

const PPQ = 480;
const DRUM_CHANNEL = 9;
const NOTE_TICKS = 60;

/**
 * A pattern as a Standard MIDI File: tempo, meter, and its strokes on one drum track.
 * @param strokes from the first bar line, in quarters
 */
export function patternToMidi(
  name: string,
  bpm: number,
  { bars }: Pick<Rhythm, "bars">,
  strokes: readonly RhythmStroke[],
): Uint8Array {
  const usPerQuarter = Math.round(60_000_000 / bpm);
  const { numerator = 4, denominator = 4 } = bars[0]?.meter ?? {};
  const meta = (tick: number, metaType: number, data: readonly number[] | Uint8Array): MidiMessage => ({
    kind: "meta",
    tick,
    metaType,
    data: Uint8Array.from(data),
  });
  const notes = strokes.flatMap(({ quarters, velocity, hit }): readonly MidiMessage[] => {
    const tick = Math.max(0, Math.round(quarters * PPQ));
    const note = (status: number, at: number, data2: number): MidiMessage => ({
      kind: "channel",
      tick: at,
      status: status | DRUM_CHANNEL,
      data1: hit.note,
      data2,
    });
    return [note(0x90, tick, velocity), note(0x80, tick + NOTE_TICKS, 64)];
  });
  const messages: readonly MidiMessage[] = [
    meta(0, META.trackName, writeText(name)),
    meta(0, META.tempo, [usPerQuarter >> 16, (usPerQuarter >> 8) & 255, usPerQuarter & 255]),
    meta(0, META.meter, [numerator, Math.log2(denominator), 24, 8]),
    ...notes.toSorted((a, b) => a.tick - b.tick),
    meta(Math.max(Math.round(endOf(bars) * PPQ), ...notes.map(({ tick }) => tick)), META.endOfTrack, []),
  ];
  return writeMidiFile({
    format: 0,
    division: { kind: "ppq", ppq: PPQ },
    headerExtra: new Uint8Array(),
    unknownChunks: [],
    tracks: [{ messages }],
  });
}

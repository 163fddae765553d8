import { NO_ARRANGEMENT, type SongEntry } from "../document/arrangement.ts";
import { findVoice, isOfFile } from "../document/index.ts";
import { type Hit, hitsByVoice, type Pattern } from "../document/pattern.ts";
import type { KitMove, KitMoves } from "../file/kit-moves.ts";
import { lastingTicks, noteLengths } from "../file/note-lengths.ts";
import { PEDAL_CONTROLLER } from "../file/pedal.ts";
import { noteOut } from "../file/place-hits.ts";
import { META, type MidiMessage, writeMidiFile, writeText } from "../smf/index.ts";
import type { TempoMap } from "../time/index.ts";
import { SongDesk } from "./lay-song.ts";
import type { HeardVoice, SongTime } from "./song-time.ts";

/** How long a note lasts that nothing stops, in parts of a quarter: drums die away by themselves. */
const NOTE_QUARTERS = 1 / 8;

/**
 * Writes a song as a Standard MIDI File: its clock and a marker for each pattern on the first track, and a track for each voice with
 * its cleaned hits on the notes that the outgoing map gives them, with what the kit sent after each. Other tracks of the take are no
 * part of it.
 * @param moves of the take's file
 * @param entries what is written; null for the song
 */
export function exportSong(take: Pattern, moves: KitMoves, entries: readonly SongEntry[] | null = null): Uint8Array {
  const { time, parts } = new SongDesk(take).play(entries ?? take.arrangement?.song ?? NO_ARRANGEMENT.song);
  const byVoice = hitsByVoice(take.hits);
  const pedalAfter = pedalAfterHats(take, moves);
  const drums = parts.map((part) => ({
    messages: withEnd(
      [
        textOf(0, META.trackName, findVoice(take.noteMap, part.voiceId).name),
        ...notesOf(take, part, byVoice.get(part.voiceId) ?? [], moves, pedalAfter, time.maps.tempoMap),
      ],
      time.lengthTicks,
    ),
  }));
  return writeMidiFile({
    format: 1,
    division: { kind: "ppq", ppq: take.ppq },
    tracks: [{ messages: withEnd(clockOf(time), time.lengthTicks) }, ...drums],
    unknownChunks: [],
    headerExtra: new Uint8Array(),
  });
}

function clockOf({ places, meters, tempos }: SongTime): readonly MidiMessage[] {
  const meta = (tick: number, metaType: number, data: readonly number[]): MidiMessage => ({
    kind: "meta",
    tick,
    metaType,
    data: Uint8Array.from(data),
  });
  return [
    ...meters.map(({ tick, numerator, denominator }) =>
      meta(tick, META.meter, [numerator, Math.log2(denominator), 24, 8]),
    ),
    ...tempos.map(({ tick, usPerQuarter: us }) => meta(tick, META.tempo, [us >> 16, (us >> 8) & 0xff, us & 0xff])),
    ...places.map(({ startTick, pattern, entry }) =>
      textOf(startTick, META.marker, entry.isMuted ? `${pattern.name} (muted)` : pattern.name),
    ),
  ];
}

/** Notes with what goes with them: the pedal up to the next stroke of the hats, and a hand that presses the cymbal. */
function notesOf(
  take: Pattern,
  { voiceId, rows, sides }: HeardVoice,
  hits: readonly Hit[],
  { hands }: KitMoves,
  pedalAfter: ReadonlyMap<string, readonly KitMove[]>,
  tempoMap: TempoMap,
): readonly MidiMessage[] {
  const { ticks, velocities } = sides.cleaned;
  const isHats = findVoice(take.noteMap, voiceId).family === "hats";
  const notes = [...rows.keys()]
    .map((at) => ({ hit: hits[rows[at]!]!, tick: ticks[at]!, velocity: velocities[at]! }))
    .sort((a, b) => a.tick - b.tick)
    .map((note) => ({ ...note, out: noteOut(take, note.hit) }));
  const nextTicks = ticksOfNext(notes);
  const treatment = take.lanes.find((lane) => lane.voiceId === voiceId)?.treatment;
  const lengths = noteLengths(
    notes.map(({ hit }) => hit),
    notes.map(({ tick }) => tick),
    new Uint8Array(notes.length),
    treatment?.lengths,
    tempoMap,
  );
  const messages: MidiMessage[] = [];
  let pedal: number | null = null;
  for (const [index, { hit, tick, velocity, out }] of notes.entries()) {
    const send = (at: number, kind: number, data1: number, data2: number) =>
      messages.push({ kind: "channel", tick: at, status: kind | out.channel, data1, data2 });
    const tread = (at: number, value: number) => {
      if (value !== pedal) send(at, 0xb0, PEDAL_CONTROLLER, value);
      pedal = value;
    };
    const nextTick = nextTicks[index]!;
    // A kit that tells open from shut hats by the pedal needs to know where it was.
    if (isHats && hit.pedal !== null) tread(tick, hit.pedal);
    const wanted = lastingTicks(lengths[index]!, hit.chokedTicks ?? Math.round(take.ppq * NOTE_QUARTERS));
    send(tick, 0x90, out.note, velocity);
    for (const move of hands.get(hit.id) ?? []) {
      if (tick + move.tick < nextTick) send(tick + move.tick, 0xa0, out.note, move.value);
    }
    send(tick + Math.max(1, Math.min(wanted, nextTick - tick)), 0x80, out.note, 0);
    const nextStroke = notes[index + 1]?.tick ?? Number.POSITIVE_INFINITY;
    for (const move of pedalAfter.get(hit.id) ?? []) {
      if (tick + move.tick < nextStroke) tread(tick + move.tick, move.value);
    }
  }
  return messages;
}

/** The moves of the pedal after each stroke of the hats, up to the next one in the take; in ticks from the stroke. */
function pedalAfterHats(take: Pattern, { pedals }: KitMoves): ReadonlyMap<string, readonly KitMove[]> {
  const after = new Map<string, readonly KitMove[]>();
  for (const [streamIndex, moves] of pedals) {
    const strokes = take.hits
      .filter((hit) => hit.streamIndex === streamIndex && isOfFile(hit))
      .filter(({ voiceId }) => findVoice(take.noteMap, voiceId).family === "hats");
    let at = 0;
    for (const [index, { id, recordedTick }] of strokes.entries()) {
      const endTick = strokes[index + 1]?.recordedTick ?? Number.POSITIVE_INFINITY;
      while (at < moves.length && moves[at]!.tick < recordedTick!) at++;
      const from = at;
      while (at < moves.length && moves[at]!.tick < endTick) at++;
      after.set(
        id,
        moves.slice(from, at).map(({ tick, value }) => ({ tick: tick - recordedTick!, value })),
      );
    }
  }
  return after;
}

/** When the same note is struck next; infinite for the last. From the end, so that each is looked at once. */
function ticksOfNext(
  notes: readonly { readonly tick: number; readonly out: { readonly note: number; readonly channel: number } }[],
): Float64Array {
  const nextTicks = new Float64Array(notes.length);
  const seen = new Map<number, number>();
  for (let index = notes.length - 1; index >= 0; index--) {
    const { tick, out } = notes[index]!;
    const key = 128 * out.channel + out.note;
    nextTicks[index] = seen.get(key) ?? Number.POSITIVE_INFINITY;
    seen.set(key, tick);
  }
  return nextTicks;
}

/** In order of time, note-offs before what begins there, and an end mark where the song ends or its last note. */
function withEnd(messages: readonly MidiMessage[], lengthTicks: number): readonly MidiMessage[] {
  const isOff = (message: MidiMessage) => message.kind === "channel" && (message.status & 0xf0) === 0x80;
  const sorted = messages.toSorted((a, b) => a.tick - b.tick || Number(isOff(b)) - Number(isOff(a)));
  const tick = Math.max(lengthTicks, sorted.at(-1)?.tick ?? 0);
  return [...sorted, { kind: "meta", tick, metaType: META.endOfTrack, data: new Uint8Array() }];
}

function textOf(tick: number, metaType: number, text: string): MidiMessage {
  return { kind: "meta", tick, metaType, data: writeText(text) };
}

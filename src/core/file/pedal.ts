import { channelOf, isNoteOff, isNoteOn, type MidiFile, type MidiMessage } from "../smf/index.ts";

// What a kit sends beside its strokes: where the hat pedal is, and hands that choke a cymbal.

export const PEDAL_CONTROLLER = 4;
/** From here on the hats are shut. */
const PEDAL_SHUT = 90;
/** Pressure from here on is a hand that holds the cymbal. */
export const CHOKE_PRESSURE = 64;
/** Lengths that differ less come from a module that sends the same length for every stroke, and mean nothing. */
const TELLING_LENGTHS_RATIO = 3;
const FEWEST_LENGTHS = 4;

export interface PedalMove {
  /** In ticks of the file. */
  readonly tick: number;
  readonly trackIndex: number;
  readonly messageIndex: number;
  /** 0 (open) to 127 (pressed). */
  readonly value: number;
}

/** What was done to a hit beside striking it. All in ticks of the file, from its onset. */
export interface HitSurroundings {
  readonly pedal: number | null;
  /** When the foot shut the hats, if they were open. */
  readonly shutTicks: number | null;
  /** When a hand, or the end of a note that was held as long as it should ring, stopped it. */
  readonly chokedTicks: number | null;
}

export function isPedalMove(message: MidiMessage): boolean {
  return message.kind === "channel" && message.status >> 4 === 0xb && message.data1 === PEDAL_CONTROLLER;
}

/** All moves of the hat pedal on a channel, in order of time, whatever track they are on. */
function findPedalMoves(file: MidiFile, channel: number): readonly PedalMove[] {
  const moves: PedalMove[] = [];
  for (const [trackIndex, { messages }] of file.tracks.entries()) {
    for (let messageIndex = 0; messageIndex < messages.length; messageIndex++) {
      const message = messages[messageIndex]!;
      if (message.kind !== "channel" || !isPedalMove(message) || channelOf(message) !== channel) continue;
      moves.push({ tick: message.tick, trackIndex, messageIndex, value: message.data2 });
    }
  }
  return moves.sort((a, b) => a.tick - b.tick);
}

/**
 * Reads what surrounds the strokes of one channel on one track.
 * @returns by the index of each note-on
 * @source MIDI 1.0: controller 4 (foot), polyphonic key pressure, note-off
 */
export function readSurroundings(
  file: MidiFile,
  trackIndex: number,
  channel: number,
): ReadonlyMap<number, HitSurroundings> {
  const moves = findPedalMoves(file, channel);
  const { messages } = file.tracks[trackIndex]!;
  const chokes = new Map<number, number>();
  const lengths = new Map<number, { onIndex: number; ticks: number }[]>();
  const soundingOf = new Map<number, { onIndex: number; tick: number }[]>();
  const latestOf = new Map<number, { onIndex: number; tick: number }>();
  const found = new Map<number, HitSurroundings>();
  let next = 0;
  // At the same tick, moves on other tracks and those written before the stroke count as before it.
  const isBefore = (move: PedalMove, tick: number, index: number) =>
    move.tick < tick || (move.tick === tick && (move.trackIndex !== trackIndex || move.messageIndex < index));
  // Hot: a take can have a million messages.
  for (let index = 0; index < messages.length; index++) {
    const message = messages[index]!;
    if (message.kind !== "channel" || channelOf(message) !== channel) continue;
    const { tick, status, data1: note, data2 } = message;
    if (isNoteOn(message)) {
      while (next < moves.length && isBefore(moves[next]!, tick, index)) next++;
      const pedal = moves[next - 1]?.value ?? null;
      const shut = pedal !== null && pedal < PEDAL_SHUT ? nextShut(moves, next) : undefined;
      found.set(index, { pedal, shutTicks: shut === undefined ? null : shut.tick - tick, chokedTicks: null });
      const stroke = { onIndex: index, tick };
      latestOf.set(note, stroke);
      const sounding = soundingOf.get(note);
      if (sounding) sounding.push(stroke);
      else soundingOf.set(note, [stroke]);
    } else if (isNoteOff(message)) {
      const ended = soundingOf.get(note)?.shift();
      if (!ended) continue;
      const known = lengths.get(note);
      const length = { onIndex: ended.onIndex, ticks: tick - ended.tick };
      if (known) known.push(length);
      else lengths.set(note, [length]);
    } else if (status >> 4 === 0xa && data2 >= CHOKE_PRESSURE) {
      const struck = latestOf.get(note);
      if (struck && !chokes.has(struck.onIndex)) chokes.set(struck.onIndex, tick - struck.tick);
    }
  }
  for (const ofNote of lengths.values()) {
    if (!areTelling(ofNote.map(({ ticks }) => ticks))) continue;
    for (const { onIndex, ticks } of ofNote) chokes.set(onIndex, Math.min(ticks, chokes.get(onIndex) ?? ticks));
  }
  for (const [onIndex, chokedTicks] of chokes) found.set(onIndex, { ...found.get(onIndex)!, chokedTicks });
  return found;
}

function nextShut(moves: readonly PedalMove[], from: number): PedalMove | undefined {
  for (let index = from; index < moves.length; index++) {
    if (moves[index]!.value >= PEDAL_SHUT) return moves[index];
  }
  return undefined;
}

/** Whether lengths differ so much that somebody held notes as long as they should ring. */
function areTelling(lengths: readonly number[]): boolean {
  if (lengths.length < FEWEST_LENGTHS) return false;
  const sorted = lengths.toSorted((a, b) => a - b);
  const short = sorted[Math.floor(sorted.length * 0.1)]!;
  const long = sorted[Math.floor(sorted.length * 0.9)]!;
  return short > 0 && long / short > TELLING_LENGTHS_RATIO;
}

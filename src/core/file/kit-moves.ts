import type { Pattern } from "../document/pattern.ts";
import { placeInPattern } from "../document/timeline.ts";
import { type ChannelMessage, channelOf, isNoteOn, type MidiFile } from "../smf/index.ts";
import { resolutionOf } from "./import-take.ts";
import { withChange } from "./outgoing-track.ts";
import { isPedalMove } from "./pedal.ts";

/** A move of the hat pedal, or a hand that presses a cymbal. */
export interface KitMove {
  /** In ticks of the pattern: of the pedal from its beginning, of a hand from the onset of its hit. */
  readonly tick: number;
  /** 0 to 127. */
  readonly value: number;
}

/** What a kit sent between its strokes. */
export interface KitMoves {
  /** By stream, in order of time. */
  readonly pedals: ReadonlyMap<number, readonly KitMove[]>;
  /** By the id of the hit that was struck last on that cymbal. */
  readonly hands: ReadonlyMap<string, readonly KitMove[]>;
}

export const NO_MOVES: KitMoves = { pedals: new Map(), hands: new Map() };

/**
 * Reads what the kit of a take sent between its strokes, as a hand has left it.
 * @param file the one that the take was imported from
 * @source MIDI 1.0: controller 4 (foot), polyphonic key pressure
 */
export function readKitMoves(file: MidiFile, pattern: Pattern): KitMoves {
  const { factor } = resolutionOf(file.division);
  const place = placeInPattern(pattern);
  const pedals = new Map<number, KitMove[]>();
  const hands = new Map<string, KitMove[]>();
  const drums = pattern.streams.flatMap((stream, streamIndex) => (stream.isDrums ? [{ ...stream, streamIndex }] : []));
  for (const [trackIndex, { messages }] of file.tracks.entries()) {
    const struck = new Map<number, { readonly hitId: string; readonly tick: number }>();
    for (const [index, original] of messages.entries()) {
      const changed = pattern.changedMessages[`${trackIndex}:${index}`];
      if (changed === null) continue;
      const message = changed ? withChange(original, changed) : { ...original, tick: place(original.tick * factor) };
      if (message.kind !== "channel") continue;
      const { tick } = message;
      const channel = channelOf(message);
      const onChannel = drums.filter((stream) => stream.channel === channel);
      if (onChannel.length === 0) continue;
      if (isPedalMove(message)) {
        // The pedal of a channel may be recorded on another track than its strokes.
        for (const { streamIndex } of onChannel) addTo(pedals, streamIndex, { tick, value: message.data2 });
      } else if (message.status >> 4 === 0xa) {
        const hit = struck.get(keyOf(message));
        if (hit) addTo(hands, hit.hitId, { tick: tick - hit.tick, value: message.data2 });
      } else if (isNoteOn(message)) {
        struck.set(keyOf(message), { hitId: `${trackIndex}:${index}`, tick });
      }
    }
  }
  for (const moves of pedals.values()) moves.sort((a, b) => a.tick - b.tick);
  return { pedals, hands };
}

function keyOf(message: ChannelMessage): number {
  return 128 * channelOf(message) + message.data1;
}

function addTo<Key>(moves: Map<Key, KitMove[]>, key: Key, move: KitMove): void {
  const known = moves.get(key);
  if (known) known.push(move);
  else moves.set(key, [move]);
}

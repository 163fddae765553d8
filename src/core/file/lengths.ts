import type { LengthFault, LengthFaultKind } from "../commands/mend-lengths.ts";
import type { Pattern } from "../document/pattern.ts";
import { placeInPattern } from "../document/timeline.ts";
import { channelOf, isNoteOn, type MidiFile, NO_END, pairNotes } from "../smf/index.ts";
import { buildTempoMap, tickToMs } from "../time/index.ts";
import { resolutionOf } from "./import-take.ts";

/** Drums ring out by themselves: a note held longer than this is a stuck trigger, or a note-off that was missed. */
const OVERLONG_MS = 5000;
/** As long as a note needs to be for any player to hear it. */
const MENDED_QUARTERS = 1 / 8;

/**
 * Finds drum notes that never end, end as they begin, are held too long, or still sound when the next of their key begins.
 * Hits that were given a length already are left out.
 */
export function findLengthFaults(file: MidiFile, pattern: Pattern): readonly LengthFault[] {
  const { factor } = resolutionOf(file.division);
  const place = placeInPattern(pattern);
  const tempoMap = buildTempoMap(pattern.ppq, pattern.tempos);
  const msOf = (tick: number) => tickToMs(tempoMap, tick);
  const usual = Math.round(pattern.ppq * MENDED_QUARTERS);
  const hits = new Map(pattern.hits.map((hit) => [hit.id, hit]));
  const faults: LengthFault[] = [];
  for (const [trackIndex, { messages }] of file.tracks.entries()) {
    const ends = pairNotes(messages);
    /** Where the next note of a key begins; read from the end of the track. */
    const nextOfKey = new Map<number, number>();
    for (let index = messages.length - 1; index >= 0; index--) {
      const message = messages[index]!;
      if (!isNoteOn(message)) continue;
      const key = (channelOf(message) << 8) | message.data1;
      const onTick = place(message.tick * factor);
      const nextTick = nextOfKey.get(key) ?? Number.POSITIVE_INFINITY;
      nextOfKey.set(key, onTick);
      const hit = hits.get(`${trackIndex}:${index}`);
      if (!hit || hit.lengthTicks !== undefined) continue;
      const endIndex = ends[index]!;
      const endTick = endIndex === NO_END ? null : place(messages[endIndex]!.tick * factor);
      const isOverlapping = endTick !== null && endTick > nextTick && nextTick > onTick;
      const kind = lengthFaultOf(onTick, endTick, msOf) ?? (isOverlapping ? "overlapping" : null);
      if (kind) faults.push({ hitId: hit.id, kind, mendedTicks: Math.max(1, Math.min(usual, nextTick - onTick)) });
    }
  }
  return faults.reverse();
}

/** What is wrong with a note's length by itself. @param endTick null if it never ends */
export function lengthFaultOf(
  onTick: number,
  endTick: number | null,
  msOf: (tick: number) => number,
): Exclude<LengthFaultKind, "overlapping"> | null {
  if (endTick === null) return "hanging";
  if (endTick <= onTick) return "zeroLength";
  return msOf(endTick) - msOf(onTick) > OVERLONG_MS ? "overlong" : null;
}

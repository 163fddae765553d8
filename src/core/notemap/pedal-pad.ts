import type { Hit } from "../document/pattern.ts";
import { type TempoMap, tickToMs } from "../time/index.ts";

const OPEN_BELOW = 30;
const SHUT_FROM = 90;
const FEWEST_OPENINGS = 3;
/** A pad for which the pedal opens is struck at this share of the openings. */
const LEAST_SHARE = 0.6;
const LEAST_SHUT_SHARE = 0.2;
/** Strokes at most this far apart are struck together; the pedal may have opened for any of them. */
const TOGETHER_MS = 45;

/**
 * Finds the one pad that gives all hats by its pedal: the pedal opens right before it, and it is struck with the pedal shut as
 * well. Where another note is struck at the openings and only there, the kit has a note for open hats, and no such pad.
 * @param hits sorted by time
 * @returns its note, or null
 */
export function findPedalPad(hits: readonly Hit[], tempoMap: TempoMap): number | null {
  const openings = findOpenings(hits, tempoMap);
  if (openings.length < FEWEST_OPENINGS) return null;
  const shareOf = (note: number) => openings.filter((notes) => notes.has(note)).length / openings.length;
  const candidates = [...new Set(openings.flatMap((notes) => [...notes]))]
    .map((note) => ({ note, share: shareOf(note), shutShare: shutShareOf(hits, note) }))
    .filter(({ share }) => share >= LEAST_SHARE)
    .sort((a, b) => b.share - a.share);
  const hasOpenNote = candidates.some(({ shutShare }) => shutShare < LEAST_SHUT_SHARE);
  return hasOpenNote ? null : (candidates[0]?.note ?? null);
}

/** For each time that the pedal opens, the notes that are struck next, together. */
function findOpenings(hits: readonly Hit[], tempoMap: TempoMap): readonly ReadonlySet<number>[] {
  const openings: ReadonlySet<number>[] = [];
  let before: number | null = null;
  for (const [index, { pedal }] of hits.entries()) {
    if (pedal === null) continue;
    if (before !== null && before >= OPEN_BELOW && pedal < OPEN_BELOW) {
      openings.push(notesTogether(hits, index, tempoMap));
    }
    before = pedal;
  }
  return openings;
}

function shutShareOf(hits: readonly Hit[], note: number): number {
  const own = hits.filter((hit) => hit.note === note && hit.pedal !== null);
  return own.filter(({ pedal }) => pedal! >= SHUT_FROM).length / Math.max(1, own.length);
}

function notesTogether(hits: readonly Hit[], index: number, tempoMap: TempoMap): ReadonlySet<number> {
  const msOf = (hit: Hit) => tickToMs(tempoMap, hit.recordedTick ?? hit.pinnedTick ?? 0);
  const notes = new Set<number>();
  const startMs = msOf(hits[index]!);
  for (let at = index; at < hits.length && msOf(hits[at]!) <= startMs + TOGETHER_MS; at++) notes.add(hits[at]!.note);
  return notes;
}

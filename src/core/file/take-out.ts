import { lanesFor } from "../commands/plan-lanes.ts";
import type { NoteMap } from "../document/index.ts";
import { compareHits, type Hit, marksOf, type Pattern } from "../document/pattern.ts";
import { DEFAULT_TREATMENT } from "../document/treatment.ts";
import { exportTake } from "./export-take.ts";
import { importUnplanned } from "./import-take.ts";
import { isOfPart, type Part } from "./part.ts";

/** A voice on its way to a project of its own. */
export interface TakenOut {
  /** Its take: the recorded hits of the voice, where they were recorded. */
  readonly bytes: Uint8Array;
  /** The same hits with what hands and settings did to them. */
  readonly pattern: Pattern;
}

/**
 * Makes a take and a pattern of one voice, or of one stroke of it. Recorded hits stay recorded, so that the new pattern can be
 * treated anew; what a hand set and the settings of the lane come along.
 * @param original the bytes of the whole take
 */
export function takeOut(original: Uint8Array, pattern: Pattern, part: Part): TakenOut {
  const hits = pattern.hits.filter((hit) => isOfPart(hit, part));
  const recorded = hits.filter((hit) => hit.recordedTick !== null);
  const asRecorded: Pattern = {
    ...pattern,
    hits: recorded.map(({ isMuted: _, ...hit }) => ({ ...hit, pinnedTick: null, pinnedVelocity: null })),
    lanes: pattern.lanes.map(({ voiceId }) => ({ voiceId, treatment: DEFAULT_TREATMENT })),
    outgoingMap: null,
    // Each stroke goes out on the note it came in on, under whatever name.
    noteMap: mapOfStrokes(pattern.noteMap, recorded),
  };
  const bytes = exportTake(original, asRecorded, { only: part });
  const { pattern: fresh } = importUnplanned(bytes, pattern.noteMap);
  const ordered = recorded.toSorted(byPlaceAndNote);
  const changed = fresh.hits.toSorted(byPlaceAndNote).map((hit, index): Hit => {
    const { voiceId, articulationId, pinnedTick, pinnedVelocity, isMuted } = ordered[index]!;
    return {
      ...hit,
      voiceId,
      articulationId,
      pinnedTick,
      pinnedVelocity,
      ...(isMuted ? { isMuted } : {}),
      ...marksOf(ordered[index]!),
    };
  });
  const added = hits.filter((hit) => hit.recordedTick === null).map((hit) => ({ ...hit, streamIndex: 0 }));
  const { outgoingMap, noteMap, lengthTicks } = pattern;
  const lane = pattern.lanes.filter(({ voiceId }) => voiceId === part.voiceId);
  const whole = {
    ...fresh,
    lengthTicks,
    noteMap,
    outgoingMap,
    hits: [...changed, ...added].sort(compareHits),
    lanes: lane,
  };
  return { bytes, pattern: { ...whole, lanes: lanesFor(whole, [part.voiceId]) } };
}

function byPlaceAndNote(a: Hit, b: Hit): number {
  return a.recordedTick! - b.recordedTick! || a.note - b.note || a.recordedVelocity! - b.recordedVelocity!;
}

/** A map by which every hit plays what it is said to play, so that none is rerouted on the way. */
function mapOfStrokes(map: NoteMap, hits: readonly Hit[]): NoteMap {
  const entries = new Map(
    hits.map(({ note, voiceId, articulationId }) => [
      note,
      { note, channel: null, pedal: null, voiceId, articulationId },
    ]),
  );
  return { ...map, entries: [...entries.values()] };
}

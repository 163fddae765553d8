import { findVoice, type NoteMap } from "../document/note-map.ts";
import { columnsOf, type Hit } from "../document/pattern.ts";
import { bordersOf } from "../dynamics/roles.ts";
import { PlanFinder, type TimeMaps, tickAfterMs, withoutTicks } from "../time/index.ts";
import type { Fault } from "./faults/fault.ts";
import { findFaults } from "./faults/find-faults.ts";
import type { FoundGrid } from "./find-grid.ts";
import { findLateness, type Lateness, readingFollowed } from "./find-lateness.ts";
import { type FreeOpening, findOpening } from "./find-opening.ts";
import { findGridsInParts } from "./grids-in-parts.ts";

/** What can be told of how a take was played. */
export interface VoiceStudy {
  /** The grid of each voice that has hits. */
  readonly found: ReadonlyMap<string, FoundGrid>;
  /** Hits that nobody played. */
  readonly faults: readonly Fault[];
  /** How late the whole take came in, and what else it may be. */
  readonly lateness: Lateness;
  /** Bars at its start that were played freely, if there are any. */
  readonly opening: FreeOpening | null;
}

/** An echo comes long before the next step. */
const MOST_OF_STEP = 0.55;
/** How far from its slot a hit may be, in spreads, and still be played on it. */
const ON_SLOT_SPREADS = 2.5;

/**
 * Finds the grids and the faults of a take, which depend on each other: an echo says nothing of the grid, and a weak stroke on a
 * slot of its own, as in a roll, is no echo.
 * @param byVoice the hits of each voice, ascending by base tick
 * @param noteMap says which drum a voice is
 * @param laneLateMs what is taken off each lane already, so that a reading that a person has chosen is kept
 * @param onProgress told how much is done, 0 to 1
 */
export function studyVoices(
  byVoice: ReadonlyMap<string, readonly Hit[]>,
  noteMap: NoteMap,
  maps: TimeMaps,
  laneLateMs: readonly number[] = [],
  onProgress?: (share: number) => void,
): VoiceStudy {
  const suspects = findFaults(byVoice, noteMap, maps);
  const suspectIds = new Set(suspects.map(({ hitId }) => hitId));
  const played = new Map(
    [...byVoice].map(([voiceId, hits]) => [
      voiceId,
      hits.filter((hit) => !suspectIds.has(hit.id) && !(hit.isMuted && hit.recordedTick !== null)),
    ]),
  );
  // Treatments tell roles from all the hits of a lane.
  const ghostTops = new Map(
    [...byVoice].map(([voiceId, hits]) => [voiceId, bordersOf(columnsOf(hits), maps.meterMap).ghostTop]),
  );
  const voices = [...played].map(([voiceId, hits]) => ({ voice: findVoice(noteMap, voiceId), hits }));
  const lateness = readingFollowed(findLateness(voices, maps), laneLateMs);
  const found = findGridsInParts(played, ghostTops, lateness.lateMs, maps, onProgress);
  const hitById = suspectsAndCauses(byVoice, suspects);
  const faults = suspects.filter((fault) => {
    const own = found.get(fault.voiceId);
    if (fault.kind !== "double" || !own) return true;
    return !isPlayed(hitById.get(fault.hitId)!, hitById.get(fault.causeId)!, fault.afterMs, own, maps);
  });
  const opening = findOpening(played, found, maps);
  return { found: opening ? withoutGridsIn(found, opening) : found, faults, lateness, opening };
}

/** Grids that were found in what is in no time say nothing of a voice. */
function withoutGridsIn(
  found: ReadonlyMap<string, FoundGrid>,
  { endTick }: FreeOpening,
): ReadonlyMap<string, FoundGrid> {
  return new Map(
    [...found].map(([voiceId, own]) => [voiceId, { ...own, stretches: withoutTicks(own.stretches, 0, endTick) }]),
  );
}

/** The hits that faults name: a few of thousands. */
function suspectsAndCauses(
  byVoice: ReadonlyMap<string, readonly Hit[]>,
  suspects: readonly Fault[],
): ReadonlyMap<string, Hit> {
  const named = new Set(suspects.flatMap(({ hitId, causeId }) => [hitId, causeId]));
  const hitById = new Map<string, Hit>();
  if (named.size === 0) return hitById;
  for (const hits of byVoice.values()) for (const hit of hits) if (named.has(hit.id)) hitById.set(hit.id, hit);
  return hitById;
}

/** Whether a weak hit after another is a stroke: it has a slot of its own, or is most of a step behind, as loose rolls are. */
function isPlayed(hit: Hit, cause: Hit, afterMs: number, found: FoundGrid, maps: TimeMaps): boolean {
  const { meterMap, tempoMap } = maps;
  const finder = new PlanFinder({ ...found, grid: found.ghostGrid ?? found.grid }, meterMap);
  const placeOf = ({ recordedTick }: Hit) => tickAfterMs(tempoMap, recordedTick ?? 0, -found.meanDriftMs);
  const causeSlot = finder.find(placeOf(cause)).slotTick;
  const place = placeOf(hit);
  const { slotTick } = finder.find(place);
  const offTicks = Math.abs(place - slotTick);
  const allowed = tickAfterMs(tempoMap, place, ON_SLOT_SPREADS * found.spreadMs) - place;
  const apartTicks = tickAfterMs(tempoMap, place, afterMs) - place;
  return (slotTick !== causeSlot && offTicks <= allowed) || apartTicks > MOST_OF_STEP * finder.stepTicks;
}

import type { Edit, MeaningChange } from "../document/index.ts";
import {
  isSameMeaning,
  isUnnamedVoice,
  meaningOf,
  type NoteMap,
  type NoteMeaning,
  withMeaning,
} from "../document/index.ts";
import { type Hit, type Pattern, strikeOf } from "../document/pattern.ts";
import { checkMap } from "../notemap/index.ts";
import { lanesFor } from "./plan-lanes.ts";

// Commands that say which drum plays a hit. Like all commands they return the edit and change nothing.

/** Moves hits to another drum or stroke by hand. */
export function revoiceHits(pattern: Pattern, hits: readonly Hit[], meaning: NoteMeaning): Edit {
  const chosen = new Set(hits.map((hit) => hit.id));
  return reassign(pattern, (hit) => (chosen.has(hit.id) ? meaning : hit), null);
}

/** Says what a note plays from now on. Its hits follow, except those that a hand has moved to another drum. */
export function nameNote(pattern: Pattern, note: number, meaning: NoteMeaning): Edit {
  return setNoteMap(pattern, withMeaning(pattern.noteMap, note, meaning));
}

/**
 * Takes another map for the notes that come in: one from the shelf, or the one in use with a change. Hits follow it, except
 * those that a hand has moved to another drum.
 * @throws NoteMapError if the map makes no sense
 */
export function setNoteMap(pattern: Pattern, noteMap: NoteMap): Edit {
  checkMap(noteMap);
  const next = (hit: Hit) => {
    const strike = strikeOf(pattern, hit);
    return isSameMeaning(hit, meaningOf(pattern.noteMap, strike)) ? meaningOf(noteMap, strike) : hit;
  };
  return reassign(pattern, next, noteMap);
}

/** Gives drums of the map a lane, although nothing plays them yet. */
export function addLane(pattern: Pattern, voiceId: string, more: readonly string[] = []): Edit {
  const lanes = lanesFor(pattern, [...emptyLanes(pattern), voiceId, ...more]);
  return { kind: "reassignHits", changes: [], noteMaps: null, fromLanes: pattern.lanes, toLanes: lanes };
}

function reassign(pattern: Pattern, next: (hit: Hit) => NoteMeaning, toNoteMap: NoteMap | null): Edit {
  const changes: MeaningChange[] = [];
  const after = pattern.hits.map((hit) => {
    const { voiceId, articulationId } = next(hit);
    if (isSameMeaning(hit, { voiceId, articulationId })) return hit;
    const from = { voiceId: hit.voiceId, articulationId: hit.articulationId };
    changes.push({ hitId: hit.id, from, to: { voiceId, articulationId } });
    return { ...hit, voiceId, articulationId };
  });
  const noteMap = toNoteMap ?? pattern.noteMap;
  return {
    kind: "reassignHits",
    changes,
    noteMaps: toNoteMap ? { from: pattern.noteMap, to: toNoteMap } : null,
    fromLanes: pattern.lanes,
    toLanes: lanesFor({ ...pattern, noteMap, hits: after }, emptyLanes(pattern)),
  };
}

/** Lanes that a person gave to drums that nothing plays. They stay. */
function emptyLanes(pattern: Pattern): readonly string[] {
  const played = new Set(pattern.hits.map((hit) => hit.voiceId));
  return pattern.lanes.flatMap(({ voiceId }) => (played.has(voiceId) || isUnnamedVoice(voiceId) ? [] : [voiceId]));
}

import { meaningOfNote, type NoteMap, type NoteMeaning, withMeaning } from "../notemap/index.ts";
import type { Edit, MeaningChange } from "./edit.ts";
import { lanesFor } from "./import-take.ts";
import type { Hit, Pattern } from "./pattern.ts";

// Commands that say which drum plays a hit. Like all commands they return the edit and change nothing.

/** Moves hits to another drum or stroke by hand. */
export function revoiceHits(pattern: Pattern, hits: readonly Hit[], meaning: NoteMeaning): Edit {
  const chosen = new Set(hits.map((hit) => hit.id));
  return reassign(pattern, (hit) => (chosen.has(hit.id) ? meaning : hit), null);
}

/** Says what a note plays from now on. Its hits follow, except those that a hand has moved to another drum. */
export function nameNote(pattern: Pattern, note: number, meaning: NoteMeaning): Edit {
  return nameNotes(pattern, new Map([[note, meaning]]));
}

/**
 * The same for several notes at once.
 * @param meanings for each note, 0 to 127, what it plays
 */
export function nameNotes(pattern: Pattern, meanings: ReadonlyMap<number, NoteMeaning>): Edit {
  let noteMap = pattern.noteMap;
  for (const [note, meaning] of meanings) noteMap = withMeaning(noteMap, note, meaning);
  const next = (hit: Hit) => {
    const meaning = meanings.get(hit.note);
    return meaning && isSameMeaning(hit, meaningOfNote(pattern.noteMap, hit.note)) ? meaning : hit;
  };
  return reassign(pattern, next, noteMap);
}

function reassign(pattern: Pattern, meaningOf: (hit: Hit) => NoteMeaning, toNoteMap: NoteMap | null): Edit {
  const changes: MeaningChange[] = [];
  const after = pattern.hits.map((hit) => {
    const { voiceId, articulationId } = meaningOf(hit);
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
    toLanes: lanesFor({ ...pattern, noteMap, hits: after }),
  };
}

function isSameMeaning(a: NoteMeaning, b: NoteMeaning): boolean {
  return a.voiceId === b.voiceId && a.articulationId === b.articulationId;
}

import { isSameMeaning, type NoteMeaning, strokeName } from "../document/index.ts";
import { type Hit, hitsByVoice, type Pattern } from "../document/pattern.ts";
import { GENERAL_MIDI, outgoingStroke } from "../notemap/index.ts";
import { noteOut } from "./place-hits.ts";

/** Hits that go out on a note which others know as something else, though the rest of their drum goes out as all know it. */
export interface StrayNote {
  readonly meaning: NoteMeaning;
  /** `Snare, rim shot`. */
  readonly name: string;
  readonly note: number;
  /** Where General MIDI has this stroke. */
  readonly knownNote: number;
  readonly hitCount: number;
}

/**
 * The notes that only the map of the take knows: to name a note says what is heard, and not what is written. A drum whose hits all go
 * out on notes of its own kit is no stray: then the kit is meant.
 * @returns none where another kit is chosen to go out to
 */
export function strayNotes(pattern: Pattern): readonly StrayNote[] {
  if (pattern.outgoingMap !== null) return [];
  return [...hitsByVoice(pattern.hits)].flatMap(([, hits]) => {
    // Of hundreds of thousands of hits there are a few dozen sorts.
    const sorts = new Map<string, { readonly hit: Hit; count: number }>();
    for (const hit of hits) {
      if (hit.isMuted) continue;
      const key = `${hit.note} ${hit.streamIndex} ${hit.pedal} ${hit.articulationId}`;
      const sort = sorts.get(key) ?? { hit, count: 0 };
      sort.count++;
      sorts.set(key, sort);
    }
    const strays = new Map<string, StrayNote>();
    let known = 0;
    for (const { hit, count } of sorts.values()) {
      const { voiceId, articulationId } = hit;
      const meaning = { voiceId, articulationId };
      const stroke = outgoingStroke(GENERAL_MIDI, meaning);
      if (!stroke || !isSameMeaning(stroke.meaning, meaning)) continue;
      const { note } = noteOut(pattern, hit);
      // A stroke may have several notes that all know.
      if (GENERAL_MIDI.entries.some((entry) => entry.note === note && entry.voiceId === voiceId)) {
        known += count;
        continue;
      }
      const key = `${note} ${articulationId}`;
      const own = strays.get(key);
      const name = strokeName(pattern.noteMap, meaning);
      strays.set(key, { meaning, name, note, knownNote: stroke.note, hitCount: (own?.hitCount ?? 0) + count });
    }
    return [...strays.values()].filter(({ hitCount }) => known > hitCount);
  });
}

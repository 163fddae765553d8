import type { NoteMap } from "../document/index.ts";

/** Notes that General MIDI has two of for one drum: a kit that sends only the second plays the drum with it, and not a special stroke. */
const SECOND_NOTES = [{ usual: 38, second: 40 }] as const;

/**
 * A map as it holds for what is really played: where only the second note of a drum comes in, it is the drum's usual stroke. So a take
 * whose only snare is note 40 has a snare, and no rim shots throughout.
 */
export function mapForNotes(map: NoteMap, played: ReadonlySet<number>): NoteMap {
  const meanings = new Map<number, string>(
    SECOND_NOTES.flatMap(({ usual, second }) => {
      const [first, other] = [usual, second].map((note) =>
        map.entries.find((entry) => entry.note === note && !entry.pedal),
      );
      const isAlone = played.has(second) && !played.has(usual);
      return isAlone && first && other && first.voiceId === other.voiceId
        ? [[second, first.articulationId] as const]
        : [];
    }),
  );
  if (meanings.size === 0) return map;
  return {
    ...map,
    entries: map.entries.map((entry) => {
      const articulationId = meanings.get(entry.note);
      return articulationId === undefined ? entry : { ...entry, articulationId };
    }),
  };
}

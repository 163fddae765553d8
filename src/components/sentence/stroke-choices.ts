import { type NoteMap, type NoteMeaning, strokeName, type Voice } from "../../core/document/index.ts";

/** A stroke as the id of a choice. */
export const idOf = ({ voiceId, articulationId }: NoteMeaning) => `${voiceId}/${articulationId}`;

export function meaningOfId(id: string): NoteMeaning {
  const [voiceId = "", articulationId = ""] = id.split("/");
  return { voiceId, articulationId };
}

/**
 * Every stroke of every drum, a group for each family.
 * @param ownId the drum that it is about: its strokes come first
 */
export function choicesOf(map: NoteMap, ownId?: string) {
  const strokesOf = (voice: Voice) =>
    voice.articulations.map((articulation) => {
      const meaning = { voiceId: voice.id, articulationId: articulation.id };
      return { id: idOf(meaning), name: strokeName(map, meaning) };
    });
  const own = map.voices.filter(({ id }) => id === ownId);
  const families = [...new Set(map.voices.map((voice) => voice.family))];
  const others = families.map((family) => map.voices.filter((voice) => voice.family === family && voice.id !== ownId));
  return [own, ...others].map((voices) => voices.flatMap(strokesOf)).filter((group) => group.length > 0);
}

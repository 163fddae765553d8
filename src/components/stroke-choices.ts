import { type NoteMap, type NoteMeaning, strokeName } from "../core/document/index.ts";

/** A stroke as the id of a choice. */
export const idOf = ({ voiceId, articulationId }: NoteMeaning) => `${voiceId}/${articulationId}`;

export function meaningOfId(id: string): NoteMeaning {
  const [voiceId = "", articulationId = ""] = id.split("/");
  return { voiceId, articulationId };
}

/** Every stroke of every drum, a group for each family. */
export function choicesOf(map: NoteMap) {
  const families = [...new Set(map.voices.map((voice) => voice.family))];
  return families.map((family) =>
    map.voices
      .filter((voice) => voice.family === family)
      .flatMap((voice) =>
        voice.articulations.map((articulation) => {
          const meaning = { voiceId: voice.id, articulationId: articulation.id };
          return { id: idOf(meaning), name: strokeName(map, meaning) };
        }),
      ),
  );
}

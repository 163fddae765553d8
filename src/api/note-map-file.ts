import { ARTICULATION_MARKS, FAMILIES, type NoteMap } from "../core/document/index.ts";
import { LONGEST_NAME } from "../core/notemap/index.ts";
import { orNull, record, sevenBits } from "./shapes.ts";

/** A note map as a file of its own. The published schema is `public/note-map.schema.json`. */
export interface NoteMapFile extends Omit<NoteMap, "id"> {
  readonly format: typeof NOTE_MAP_FORMAT;
  readonly version: 1;
}

const NOTE_MAP_FORMAT = "idle-marten-note-map";

const id = { type: "string", minLength: 1, maxLength: 80 } as const;
// Longer names are refused by the core, with a word on it; the shape only keeps them within reason.
const name = { type: "string", minLength: 1, maxLength: 20 * LONGEST_NAME } as const;
const channel = orNull({ type: "integer", minimum: 0, maximum: 15 });
const family = { enum: FAMILIES };

const parts = {
  name,
  voices: {
    type: "array",
    description: "The drums, in the order of their lanes.",
    items: record({
      id,
      name,
      family,
      ink: { ...family, description: "Whose colour it is drawn in." },
      articulations: {
        type: "array",
        description: "The ways it can be struck.",
        items: record({ id, name, mark: { enum: ARTICULATION_MARKS } }),
      },
    }),
  },
  entries: {
    type: "array",
    description:
      "Which incoming note plays what. Channels count from 0; null is any. The pedal is controller 4, 0 open.",
    items: record({
      note: sevenBits,
      channel,
      pedal: orNull(record({ from: sevenBits, to: sevenBits })),
      voiceId: id,
      articulationId: id,
    }),
  },
  outgoing: {
    type: "array",
    description: "Strokes that go out on another note than the one that plays them.",
    items: record({ voiceId: id, articulationId: id, note: sevenBits, channel }),
  },
};

/** A map within our own data: it has an id, which a file has not. */
export const noteMap = record({ id: { ...id, minLength: 0 }, ...parts });

export const noteMapFile = {
  $schema: "http://json-schema.org/draft-07/schema#",
  title: "Idle Marten note map",
  ...record({ format: { const: NOTE_MAP_FORMAT }, version: { const: 1 }, ...parts }),
};

export function writeNoteMapFile({ name, voices, entries, outgoing }: NoteMap): string {
  const file: NoteMapFile = { format: NOTE_MAP_FORMAT, version: 1, name, voices, entries, outgoing };
  return `${JSON.stringify(file, null, 2)}\n`;
}

import type { NoteMap } from "../core/document/index.ts";
import { noteMapParts } from "../core/document/shapes/note-map-shape.ts";
import { record } from "../core/json-shape.ts";

/** A note map as a file of its own. The published schema is `public/note-map.schema.json`. */
export interface NoteMapFile extends Omit<NoteMap, "id"> {
  readonly format: typeof NOTE_MAP_FORMAT;
  readonly version: 1;
}

const NOTE_MAP_FORMAT = "idle-marten-note-map";

export const noteMapFile = {
  $schema: "http://json-schema.org/draft-07/schema#",
  title: "Idle Marten note map",
  ...record({ format: { const: NOTE_MAP_FORMAT }, version: { const: 1 }, ...noteMapParts }),
};

export function writeNoteMapFile({ name, voices, entries, outgoing }: NoteMap): string {
  const file: NoteMapFile = { format: NOTE_MAP_FORMAT, version: 1, name, voices, entries, outgoing };
  return `${JSON.stringify(file, null, 2)}\n`;
}

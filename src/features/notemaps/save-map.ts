import { saveText } from "../../components/save-text.ts";
import type { NoteMap } from "../../core/document/index.ts";
import { writeNamesDocument, writeXml } from "../../core/notemap/index.ts";
import { writeNoteMapFile } from "../../store/server-api.ts";

/** Saves a map in our own form, with everything that it holds. */
export function saveAsJson(map: NoteMap): void {
  saveText(`${map.name}.json`, "application/json", writeNoteMapFile(map));
}

/** Saves a map as a MIDI Names document. Returns what that form cannot hold. */
export function saveAsNames(map: NoteMap): readonly string[] {
  const { root, notices } = writeNamesDocument(map);
  saveText(`${map.name}.midnam`, "application/xml", writeXml(root));
  return notices;
}

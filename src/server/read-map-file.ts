import { isNoteMapFile, problemOf } from "../api/schemas.ts";
import type { MapReading } from "../api/wire.ts";
import { readNamesDocument } from "../core/notemap/index.ts";
import { expectSense } from "./note-maps.ts";
import { ProblemError } from "./problem-error.ts";
import { readXml } from "./read-xml.ts";

/**
 * Reads a note map from a file: a MIDI Names document or our own JSON. Which it is, its first sign says.
 * @throws ProblemError if it is neither, is damaged, or makes no sense
 */
export function readMapFile(fileName: string, bytes: Uint8Array): MapReading {
  const text = new TextDecoder().decode(bytes).trimStart();
  const reading = text.startsWith("<") ? readNames(fileName, text) : text.startsWith("{") ? readOwn(text) : null;
  if (!reading) {
    throw new ProblemError(422, {
      code: "map.unreadable",
      message: `${fileName} is not a note map.`,
      remedy: "Choose a MIDI Names document (.midnam) or a note map that Idle Marten has written (.json).",
    });
  }
  expectSense(reading.map);
  return reading;
}

function readNames(fileName: string, text: string): MapReading {
  const root = readXml(text);
  const reading = readNamesDocument(root, fileName.replace(/\.\w+$/, ""));
  if (reading) return reading;
  throw new ProblemError(422, {
    code: "map.empty",
    message: `${fileName} names no notes.`,
    remedy: "A MIDI Names document for drums has a NoteNameList; this one has none.",
  });
}

function readOwn(text: string): MapReading {
  let file: unknown;
  try {
    file = JSON.parse(text);
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error;
    const problem = {
      code: "map.json",
      message: `The file breaks off or is damaged: ${error.message}.`,
      remedy: "Export the map again.",
    };
    throw new ProblemError(422, problem, { cause: error });
  }
  if (!isNoteMapFile(file)) {
    const { where = "/", message } = problemOf(isNoteMapFile);
    const remedy = "The form is written down in note-map.schema.json, which this application serves.";
    throw new ProblemError(422, {
      code: "map.shape",
      message: message.replace("The request", "The map"),
      where,
      remedy,
    });
  }
  const { name, voices, entries, outgoing } = file;
  return { map: { id: "", name, voices, entries, outgoing }, notices: [] };
}

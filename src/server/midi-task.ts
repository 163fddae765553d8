import { GENERAL_MIDI } from "../core/notemap/index.ts";
import {
  exportTake,
  type Hit,
  hitsOfStream,
  importTake,
  type Pattern,
  summarizePattern,
  type TrackLayout,
  thumbnailOf,
} from "../core/part/index.ts";
import { type Notice, readMidiFile } from "../core/smf/index.ts";
import type { PatternRecord } from "./patterns.ts";

/** Work on a file's bytes. It runs in a worker thread, since a file can be large or made to be slow. */
export type MidiTask =
  | { readonly kind: "import"; readonly bytes: Uint8Array }
  | { readonly kind: "export"; readonly bytes: Uint8Array; readonly pattern: Pattern; readonly layout: TrackLayout }
  | {
      readonly kind: "hitsOfStream";
      readonly bytes: Uint8Array;
      readonly pattern: Pattern;
      readonly streamIndex: number;
    };

export interface ImportResult {
  readonly record: PatternRecord;
  readonly notices: readonly Notice[];
}

export interface MidiTaskResult {
  readonly import: ImportResult;
  readonly export: Uint8Array;
  readonly hitsOfStream: readonly Hit[];
}

export function runImport(bytes: Uint8Array): ImportResult {
  const { pattern, notices } = importTake(bytes, GENERAL_MIDI);
  const { hits, streams, lanes, noteMap, ...head } = pattern;
  const record = {
    head: JSON.stringify(head),
    recordedHits: JSON.stringify(hits),
    streams: JSON.stringify(streams),
    lanes: JSON.stringify(lanes),
    noteMap: JSON.stringify(noteMap),
    summary: JSON.stringify(summarizePattern(pattern)),
    thumbnail: JSON.stringify(thumbnailOf(pattern)),
  };
  return { record, notices };
}

export function runMidiTask(task: MidiTask): MidiTaskResult[MidiTask["kind"]] {
  switch (task.kind) {
    case "import":
      return runImport(task.bytes);
    case "export":
      return exportTake(task.bytes, task.pattern, task.layout);
    case "hitsOfStream":
      return hitsOfStream(readMidiFile(task.bytes).file, task.pattern.streams, task.streamIndex, task.pattern.noteMap);
    default:
      return task satisfies never;
  }
}

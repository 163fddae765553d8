import { zipSync } from "fflate";
import type { SongChoice } from "../api/schemas.ts";
import { planLanes } from "../core/commands/index.ts";
import { type Hit, hitsOnTimeline, type Pattern, packHits, unpackPattern } from "../core/document/index.ts";
import {
  type ExportChoice,
  exportTake,
  hitsOfStream,
  importTake,
  importUnplanned,
  type Part,
  readKitMoves,
  type TakenOut,
  takeOut,
} from "../core/file/index.ts";
import { type FoundGroove, grooveOfPattern } from "../core/groove/index.ts";
import { toOneLine } from "../core/json-shape.ts";
import { GENERAL_MIDI } from "../core/notemap/index.ts";
import { summarizePattern, thumbnailOf } from "../core/overview/index.ts";
import { type Notice, readMidiFile } from "../core/smf/index.ts";
import { exportSong } from "../core/song/index.ts";
import type { ReadArchive } from "./archive/read-archive.ts";
import type { PatternRecord } from "./patterns.ts";

/** Work on a file's bytes. It runs in a process of its own, since a file can be large or made to be slow. */
export type MidiTask =
  | { readonly kind: "import"; readonly bytes: Uint8Array }
  | { readonly kind: "export"; readonly bytes: Uint8Array; readonly pattern: Pattern; readonly choice: ExportChoice }
  | { readonly kind: "groove"; readonly bytes: Uint8Array }
  | { readonly kind: "song"; readonly bytes: Uint8Array; readonly pattern: Pattern; readonly choice: SongChoice }
  | { readonly kind: "takeOut"; readonly bytes: Uint8Array; readonly pattern: Pattern; readonly part: Part }
  | {
      readonly kind: "hitsOfStream";
      readonly bytes: Uint8Array;
      readonly pattern: Pattern;
      readonly streamIndex: number;
    }
  | { readonly kind: "archive"; readonly bytes: Uint8Array }
  /** Seeks the grids of a take whose lanes are on none yet. */
  | { readonly kind: "plan"; readonly pattern: Pattern };

/** A task on its way: its pattern is text with its hits packed, which goes over in a fraction of the time that half a million objects take. */
export type SentTask<Task = MidiTask> = Task extends { readonly pattern: Pattern }
  ? Omit<Task, "pattern"> & { readonly patternJson: string }
  : Task;

export function taskOf(sent: SentTask): MidiTask {
  if (!("patternJson" in sent)) return sent;
  const { patternJson, ...rest } = sent;
  return { ...rest, pattern: unpackPattern(JSON.parse(patternJson)) } as MidiTask;
}

export interface ImportResult {
  readonly record: PatternRecord;
  /** Whether the grids of its lanes were sought. */
  readonly isPlanned: boolean;
  readonly notices: readonly Notice[];
}

export interface MidiTaskResult {
  readonly import: ImportResult;
  readonly export: Uint8Array;
  readonly groove: FoundGroove | null;
  readonly song: Uint8Array;
  readonly takeOut: { readonly bytes: Uint8Array; readonly result: ImportResult };
  readonly hitsOfStream: readonly Hit[];
  readonly archive: ReadArchive;
  /** The lanes, as text. */
  readonly plan: string;
}

export function runImport(bytes: Uint8Array): ImportResult {
  const { pattern, notices } = importTake(bytes, GENERAL_MIDI);
  return { record: recordOf(pattern), isPlanned: true, notices };
}

/** Reads a take without seeking its grids, which takes longer than all the rest. */
export function unplannedImport(bytes: Uint8Array): ImportResult & { readonly pattern: Pattern } {
  const { pattern, notices } = importUnplanned(bytes, GENERAL_MIDI);
  return { record: recordOf(pattern), isPlanned: false, notices, pattern };
}

/**
 * Reads a take and tells it at once; the lanes on their grids follow.
 * @param tell told what was read, before the grids are sought
 * @param onProgress told how far that has come, 0 to 1
 * @returns the lanes, as text
 */
export function importInSteps(
  bytes: Uint8Array,
  tell: (read: ImportResult) => void,
  onProgress: (share: number) => void,
): string {
  const { pattern, ...read } = unplannedImport(bytes);
  tell(read);
  return JSON.stringify(planLanes(pattern, onProgress));
}

function runTakeOut({ bytes, pattern }: TakenOut): MidiTaskResult["takeOut"] {
  return { bytes, result: { record: recordOf(pattern), isPlanned: true, notices: [] } };
}

/** The large parts as text: what a thread hands over as objects is copied one by one. */
export function recordOf(pattern: Pattern): PatternRecord {
  const { hits, streams, lanes, noteMap, outgoingMap, changedMessages, ...head } = pattern;
  return {
    head: JSON.stringify(head),
    recordedHits: JSON.stringify(packHits(hits)),
    streams: JSON.stringify(streams),
    lanes: JSON.stringify(lanes),
    noteMap: JSON.stringify(noteMap),
    outgoingMap: JSON.stringify(outgoingMap),
    changedMessages: JSON.stringify(changedMessages),
    summary: JSON.stringify(summarizePattern(pattern)),
    thumbnail: JSON.stringify(thumbnailOf(pattern)),
  };
}

/** A file of the song or of one pattern, or an archive with a file for each pattern. */
function writeSong(bytes: Uint8Array, pattern: Pattern, choice: SongChoice): Uint8Array {
  const moves = readKitMoves(readMidiFile(bytes).file, pattern);
  const alone = (patternId: string) => exportSong(pattern, moves, [{ id: "alone", patternId, repeats: 1 }]);
  if (choice.kind === "song") return exportSong(pattern, moves);
  if (choice.kind === "pattern") return alone(choice.patternId);
  const patterns = pattern.arrangement?.patterns ?? [];
  // Numbered, so that two of one name do not overwrite each other, and they lie in their order.
  const files = patterns.map(({ id, name }, index) => {
    const number = String(index + 1).padStart(2, "0");
    return [`${number} ${toOneLine(name).replace(/[\\/:*?"<>|]/g, "-")}.mid`, alone(id)] as const;
  });
  return zipSync(Object.fromEntries(files));
}

type FileTask = Exclude<MidiTask, { kind: "archive" | "import" }>;

export function runMidiTask(
  task: FileTask,
  onProgress: (share: number) => void = () => {},
): MidiTaskResult[FileTask["kind"]] {
  switch (task.kind) {
    case "plan":
      return JSON.stringify(planLanes(task.pattern, onProgress));
    case "export":
      return exportTake(task.bytes, task.pattern, task.choice, onProgress);
    case "song":
      return writeSong(task.bytes, task.pattern, task.choice);
    case "groove":
      return grooveOfPattern(importTake(task.bytes, GENERAL_MIDI).pattern);
    case "takeOut":
      return runTakeOut(takeOut(task.bytes, task.pattern, task.part));
    case "hitsOfStream":
      return hitsOnTimeline(
        hitsOfStream(readMidiFile(task.bytes).file, task.pattern.streams, task.streamIndex, task.pattern.noteMap),
        task.pattern,
      );
    default:
      return task satisfies never;
  }
}

import type { Articulation, NoteMap, NoteMapEntry } from "../../core/document/index.ts";
import { NoteMapError } from "../../core/notemap/index.ts";
import type { TakeUsage } from "../../core/overview/index.ts";

/** What the table of a map edits: the map of the open take, or one on the shelf. */
export interface MapEditor {
  readonly map: NoteMap;
  /** Null for a map that comes with the application. */
  readonly change: ((label: string, next: NoteMap) => void) | null;
  /** The map of the kit that it goes out to, if that is another one than this; changed like this one. */
  readonly goesOut: { readonly map: NoteMap; readonly change: (label: string, next: NoteMap) => void } | null;
  /** How often each entry comes in; null for a map on the shelf, which has no take. */
  readonly usage: TakeUsage | null;
  readonly hear: (voiceId: string, articulationId: string, velocity: number) => void;
}

/** A stroke with one of its notes; a stroke without a note has one row, too. */
export interface StrokeRow {
  readonly articulation: Articulation;
  readonly entry: NoteMapEntry | null;
  readonly isFirst: boolean;
}

/**
 * Makes a change, or says why the map cannot take it.
 * @returns null if it was made
 */
export function tryChange({ map, change }: MapEditor, label: string, next: (map: NoteMap) => NoteMap): string | null {
  if (!change) return "General MIDI comes with the application. Copy it, and change the copy.";
  try {
    change(label, next(map));
    return null;
  } catch (error) {
    if (!(error instanceof NoteMapError)) throw error;
    return `${error.message} ${error.remedy}`;
  }
}

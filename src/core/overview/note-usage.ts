import { entryOf, type NoteMapEntry } from "../document/index.ts";
import { type Hit, type Pattern, strikeOf } from "../document/pattern.ts";

/** How many parts of the take are told apart when it is said where something plays. */
export const PLACES = 48;

/** How often something comes in, and where in the take. */
export interface NoteUsage {
  readonly hitCount: number;
  /** For each of `PLACES` even parts of the take how many hits it has. */
  readonly perPlace: Uint16Array;
  /** The lowest and highest place of the pedal; null if the take says nothing of a pedal. */
  readonly pedal: { readonly lowest: number; readonly highest: number } | null;
}

export interface TakeUsage {
  readonly byEntry: ReadonlyMap<NoteMapEntry, NoteUsage>;
  /** Of notes that no entry matches, by note. */
  readonly withoutName: ReadonlyMap<number, NoteUsage>;
}

/** Says of each entry of a pattern's map how many hits come in by it, and of each note that has no name the same. */
export function usageOf(pattern: Pattern): TakeUsage {
  const byEntry = new Map<NoteMapEntry, Counts>();
  const withoutName = new Map<number, Counts>();
  for (const hit of pattern.hits) {
    if (hit.recordedTick === null) continue;
    const entry = entryOf(pattern.noteMap, strikeOf(pattern, hit));
    if (entry) count(byEntry, entry, hit, pattern.lengthTicks);
    else count(withoutName, hit.note, hit, pattern.lengthTicks);
  }
  return { byEntry, withoutName };
}

interface Counts extends NoteUsage {
  hitCount: number;
  pedal: { lowest: number; highest: number } | null;
}

function count<Key>(counts: Map<Key, Counts>, key: Key, hit: Hit, lengthTicks: number): void {
  const counted = counts.get(key) ?? { hitCount: 0, perPlace: new Uint16Array(PLACES), pedal: null };
  counts.set(key, counted);
  counted.hitCount++;
  const place = Math.min(PLACES - 1, Math.floor(((hit.recordedTick ?? 0) / Math.max(1, lengthTicks)) * PLACES));
  counted.perPlace[place]!++;
  if (hit.pedal === null) return;
  counted.pedal ??= { lowest: hit.pedal, highest: hit.pedal };
  counted.pedal.lowest = Math.min(counted.pedal.lowest, hit.pedal);
  counted.pedal.highest = Math.max(counted.pedal.highest, hit.pedal);
}

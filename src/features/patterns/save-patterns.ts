import { saveBytes } from "../../components/save-text.ts";
import { pathsOf, patternFile, patternToMidi } from "../../core/pattern/index.ts";
import type { ShelfEntry } from "../../store/patterns/use-pattern-shelf.ts";

/** Saves patterns as `.mid` files in folders by kind, with all of them in one JSON beside. */
export async function savePatterns(entries: readonly ShelfEntry[]): Promise<void> {
  const { strToU8, zipSync } = await import("fflate");
  const paths = pathsOf(entries);
  const files: Record<string, Uint8Array> = {
    "patterns.json": strToU8(`${JSON.stringify(patternFile(entries), null, 1)}\n`),
  };
  for (const [index, { name, bpm, rhythm }] of entries.entries())
    files[paths[index]!] = patternToMidi(name, bpm, rhythm, rhythm.strokes);
  saveBytes("Patterns.zip", "application/zip", zipSync(files));
}

import type { Pattern } from "../document/pattern.ts";
import { isTakenOut, placeInPattern } from "../document/timeline.ts";
import { META, type MidiFile, readText } from "../smf/index.ts";
import { resolutionOf } from "./import-take.ts";

/** A place that the take names: a verse, a cue. */
export interface Marker {
  /** In ticks of the pattern. */
  readonly tick: number;
  readonly text: string;
}

/** The markers and cue points of a take as they are now, in order of time; those without a word are left out. */
export function readMarkers(file: MidiFile, pattern: Pattern): readonly Marker[] {
  const { factor } = resolutionOf(file.division);
  const place = placeInPattern(pattern);
  const isGone = isTakenOut(pattern);
  const markers = file.tracks.flatMap(({ messages }, trackIndex) =>
    messages.flatMap((message, index): Marker[] => {
      if (message.kind !== "meta" || (message.metaType !== META.marker && message.metaType !== META.cuePoint))
        return [];
      const changed = pattern.changedMessages[`${trackIndex}:${index}`];
      if (changed === null || isGone?.(message.tick * factor)) return [];
      const text = readText(changed ? Uint8Array.from(changed.bytes) : message.data).trim();
      const tick = changed?.tick ?? place(message.tick * factor);
      return text === "" || tick >= pattern.lengthTicks ? [] : [{ tick, text }];
    }),
  );
  return markers.sort((a, b) => a.tick - b.tick);
}

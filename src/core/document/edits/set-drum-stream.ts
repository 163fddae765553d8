import { record } from "../../json-shape.ts";
import type { NoteStream } from "../note-stream.ts";
import type { Hit, Lane } from "../pattern.ts";
import { list, shared } from "../shapes/values.ts";
import { isSameValue, StaleEditError } from "../stale.ts";
import { withHits, withoutHits } from "./change-hits.ts";
import type { EditKind } from "./edit-kind.ts";

/** Takes a stream for drums or no longer: its hits come or go, and so do lanes that only it needs. */
export interface SetDrumStream {
  readonly kind: "setDrumStream";
  readonly change: DrumStreamChange;
}

export interface DrumStreamChange {
  readonly streamIndex: number;
  readonly toIsDrums: boolean;
  readonly hits: readonly Hit[];
  readonly fromLanes: readonly Lane[];
  readonly toLanes: readonly Lane[];
}

export const setDrumStream: EditKind<SetDrumStream> = {
  apply(pattern, { change: { streamIndex, toIsDrums, hits, fromLanes, toLanes } }) {
    const stream = pattern.streams[streamIndex];
    if (!stream || stream.isDrums === toIsDrums || !isSameValue(pattern.lanes, fromLanes)) {
      throw new StaleEditError("The tracks have changed since this edit was made.");
    }
    const streams = pattern.streams.map(
      (other): NoteStream => (other === stream ? { ...stream, isDrums: toIsDrums } : other),
    );
    const nextHits = toIsDrums ? withHits(pattern, hits) : withoutHits(pattern, hits);
    return { ...pattern, streams, lanes: toLanes, hits: nextHits };
  },
  invert: ({ kind, change: { streamIndex, toIsDrums, hits, fromLanes, toLanes } }) => ({
    kind,
    change: { streamIndex, toIsDrums: !toIsDrums, hits, fromLanes: toLanes, toLanes: fromLanes },
  }),
  isEmpty: () => false,
  touches: ({ change }) => ({ hitIds: change.hits.map(({ id }) => id), parts: ["streams", "lanes"] }),
  // Hits and lanes follow by other edits, all together.
  between: (from, to) =>
    from.streams.flatMap(({ isDrums }, streamIndex): SetDrumStream[] => {
      const toIsDrums = to.streams[streamIndex]?.isDrums ?? isDrums;
      if (toIsDrums === isDrums) return [];
      const change = { streamIndex, toIsDrums, hits: [], fromLanes: from.lanes, toLanes: from.lanes };
      return [{ kind: "setDrumStream", change }];
    }),
  fields: {
    change: record({
      streamIndex: { type: "integer", minimum: 0 },
      toIsDrums: { type: "boolean" },
      hits: list(shared("hit")),
      fromLanes: list(shared("lane")),
      toLanes: list(shared("lane")),
    }),
  },
};

import { id } from "../../json-shape.ts";
import { list } from "../shapes/values.ts";
import { changedBetween, changeHits, expectSame } from "./change-hits.ts";
import type { EditKind } from "./edit-kind.ts";

/** Hits are silenced or heard again. They stay in their lanes. */
export interface MuteHits {
  readonly kind: "muteHits";
  readonly hitIds: readonly string[];
  readonly toIsMuted: boolean;
}

export const muteHits: EditKind<MuteHits> = {
  apply: (pattern, { hitIds, toIsMuted }) =>
    changeHits(
      pattern,
      hitIds.map((hitId) => ({ hitId })),
      (hit) => {
        expectSame(hit, hit.isMuted ?? false, !toIsMuted);
        const { isMuted: _, ...rest } = hit;
        return toIsMuted ? { ...rest, isMuted: true } : rest;
      },
    ),
  invert: (edit) => ({ ...edit, toIsMuted: !edit.toIsMuted }),
  isEmpty: ({ hitIds }) => hitIds.length === 0,
  touches: ({ hitIds }) => ({ hitIds, parts: [] }),
  between(from, to) {
    const changes = changedBetween(from, to, ({ isMuted = false }) => isMuted);
    return [true, false].map((toIsMuted) => ({
      kind: "muteHits",
      hitIds: changes.flatMap((change) => (change.to === toIsMuted ? [change.hitId] : [])),
      toIsMuted,
    }));
  },
  fields: { hitIds: list(id), toIsMuted: { type: "boolean" } },
};

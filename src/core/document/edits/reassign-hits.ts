import { id, orNull, record } from "../../json-shape.ts";
import type { NoteMap, NoteMeaning } from "../note-map.ts";
import type { Hit, Lane } from "../pattern.ts";
import { fromTo, list, shared } from "../shapes/values.ts";
import { isSameValue, StaleEditError } from "../stale.ts";
import { changedBetween, changeHits, expectSame, type HitChange, turnedRound } from "./change-hits.ts";
import type { EditKind } from "./edit-kind.ts";

/** Hits go to other drums: by hand, or because a note means something else from now on. Lanes come and go with them. */
export interface ReassignHits {
  readonly kind: "reassignHits";
  readonly changes: readonly MeaningChange[];
  /** Null if the note map stays as it is. */
  readonly noteMaps: { readonly from: NoteMap; readonly to: NoteMap } | null;
  readonly fromLanes: readonly Lane[];
  readonly toLanes: readonly Lane[];
}

export type MeaningChange = HitChange<NoteMeaning>;

const meaningOfHit = ({ voiceId, articulationId }: Hit): NoteMeaning => ({ voiceId, articulationId });
const meaning = record({ voiceId: id, articulationId: id });

export const reassignHits: EditKind<ReassignHits> = {
  apply(pattern, { changes, noteMaps, fromLanes, toLanes }) {
    if (!isSameValue(pattern.lanes, fromLanes))
      throw new StaleEditError("The lanes have changed since this edit was made.");
    if (noteMaps && !isSameValue(pattern.noteMap, noteMaps.from)) {
      throw new StaleEditError("The note map has changed since this edit was made.");
    }
    const reassigned = changeHits(pattern, changes, (hit, { from, to }) => {
      expectSame(hit, meaningOfHit(hit), from);
      return { ...hit, ...to };
    });
    return { ...reassigned, noteMap: noteMaps?.to ?? pattern.noteMap, lanes: toLanes };
  },
  invert: ({ kind, changes, noteMaps, fromLanes, toLanes }) => ({
    kind,
    changes: turnedRound(changes),
    noteMaps: noteMaps && { from: noteMaps.to, to: noteMaps.from },
    fromLanes: toLanes,
    toLanes: fromLanes,
  }),
  isEmpty: ({ changes, noteMaps, fromLanes, toLanes }) =>
    changes.length === 0 &&
    (noteMaps === null || isSameValue(noteMaps.from, noteMaps.to)) &&
    isSameValue(fromLanes, toLanes),
  touches: ({ changes, noteMaps }) => ({
    hitIds: changes.map(({ hitId }) => hitId),
    parts: noteMaps ? ["lanes", "noteMap"] : ["lanes"],
  }),
  between: (from, to) => [
    {
      kind: "reassignHits",
      changes: changedBetween(from, to, meaningOfHit),
      noteMaps: isSameValue(from.noteMap, to.noteMap) ? null : { from: from.noteMap, to: to.noteMap },
      fromLanes: from.lanes,
      toLanes: to.lanes,
    },
  ],
  fields: {
    changes: list(record({ hitId: id, from: meaning, to: meaning })),
    noteMaps: orNull(fromTo(shared("noteMap"))),
    fromLanes: list(shared("lane")),
    toLanes: list(shared("lane")),
  },
};

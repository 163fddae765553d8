import { orNull } from "../../json-shape.ts";
import type { NoteMap } from "../note-map.ts";
import { shared } from "../shapes/values.ts";
import { isSameValue, StaleEditError } from "../stale.ts";
import type { EditKind } from "./edit-kind.ts";

/** Hits go out by another map; null is on the notes that they came in on. */
export interface SetOutgoingMap {
  readonly kind: "setOutgoingMap";
  readonly from: NoteMap | null;
  readonly to: NoteMap | null;
}

export const setOutgoingMap: EditKind<SetOutgoingMap> = {
  apply(pattern, { from, to }) {
    if (!isSameValue(pattern.outgoingMap, from)) {
      throw new StaleEditError("The outgoing map has changed since this edit was made.");
    }
    return { ...pattern, outgoingMap: to };
  },
  invert: ({ kind, from, to }) => ({ kind, from: to, to: from }),
  isEmpty: ({ from, to }) => isSameValue(from, to),
  touches: () => ({ hitIds: [], parts: ["outgoingMap"] }),
  between: (from, to) => [{ kind: "setOutgoingMap", from: from.outgoingMap, to: to.outgoingMap }],
  fields: { from: orNull(shared("noteMap")), to: orNull(shared("noteMap")) },
};

import { id, orNull, record } from "../../json-shape.ts";
import { type Arranging, arrange as applyArranging, arranging, isNoArranging, unarranging } from "../arrange.ts";
import { NO_ARRANGEMENT } from "../arrangement.ts";
import { songEntries, songPattern } from "../shapes/pattern-shape.ts";
import { grooveId } from "../shapes/treatment-shape.ts";
import { fromTo, fromToOrNull, list, shared } from "../shapes/values.ts";
import type { EditKind } from "./edit-kind.ts";

/** The take is cut into other patterns, or they make another song. */
export type Arrange = { readonly kind: "arrange" } & Arranging;

/** Null is not there. */
const changes = (value: object) => list(record({ id: grooveId, ...fromToOrNull(value).properties }));

export const arrange: EditKind<Arrange> = {
  apply({ arrangement: before, ...rest }, edit) {
    const arrangement = applyArranging(before, edit);
    return arrangement ? { ...rest, arrangement } : rest;
  },
  invert: (edit) => ({ kind: "arrange", ...unarranging(edit) }),
  isEmpty: isNoArranging,
  touches: () => ({ hitIds: [], parts: ["arrangement"] }),
  between: (from, to) => [
    { kind: "arrange", ...arranging(from.arrangement ?? NO_ARRANGEMENT, to.arrangement ?? NO_ARRANGEMENT) },
  ],
  fields: {
    patterns: changes(songPattern),
    grooves: changes(shared("groove")),
    order: orNull(fromTo(list(id))),
    song: orNull(fromTo(songEntries)),
  },
};

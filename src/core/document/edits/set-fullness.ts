import { orNull, record } from "../../json-shape.ts";
import { type Fullness, fullnessShape } from "../chance.ts";
import { isSameValue, StaleEditError } from "../stale.ts";
import type { EditKind } from "./edit-kind.ts";

/** The part is played fuller or sparser, or others of the hits that are not played always. Null is as usual. */
export interface SetFullness {
  readonly kind: "setFullness";
  readonly from: Fullness | null;
  readonly to: Fullness | null;
}

const fullness = orNull(record(fullnessShape));

export const setFullness: EditKind<SetFullness> = {
  apply(pattern, { from, to }) {
    const { fullness: present = null, ...rest } = pattern;
    if (!isSameValue(present, from)) throw new StaleEditError("The fullness has changed since this edit was made.");
    return to === null ? rest : { ...rest, fullness: to };
  },
  invert: ({ kind, from, to }) => ({ kind, from: to, to: from }),
  isEmpty: ({ from, to }) => isSameValue(from, to),
  touches: () => ({ hitIds: [], parts: ["fullness"] }),
  merge: (first, second) => ({ kind: "setFullness", from: first.from, to: second.to }),
  between: (from, to) => [{ kind: "setFullness", from: from.fullness ?? null, to: to.fullness ?? null }],
  fields: { from: fullness, to: fullness },
};

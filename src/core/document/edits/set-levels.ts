import { type Levels, NO_LEVELS } from "../levels.ts";
import { levels } from "../shapes/pattern-shape.ts";
import { isSameValue, StaleEditError } from "../stale.ts";
import type { EditKind } from "./edit-kind.ts";

/** Drums are louder or softer in the mix, or stand elsewhere in it. */
export interface SetLevels {
  readonly kind: "setLevels";
  readonly from: Levels;
  readonly to: Levels;
}

export const setLevels: EditKind<SetLevels> = {
  apply(pattern, { from, to }) {
    const { levels: present = NO_LEVELS, ...rest } = pattern;
    if (!isSameValue(present, from)) throw new StaleEditError("The mix has changed since this edit was made.");
    return Object.keys(to).length === 0 ? rest : { ...rest, levels: to };
  },
  invert: ({ kind, from, to }) => ({ kind, from: to, to: from }),
  isEmpty: ({ from, to }) => isSameValue(from, to),
  touches: () => ({ hitIds: [], parts: ["levels"] }),
  merge: (first, second) => ({ kind: "setLevels", from: first.from, to: second.to }),
  between: (from, to) => [{ kind: "setLevels", from: from.levels ?? NO_LEVELS, to: to.levels ?? NO_LEVELS }],
  fields: { from: levels, to: levels },
};

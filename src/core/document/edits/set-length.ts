import { tick } from "../shapes/values.ts";
import { StaleEditError } from "../stale.ts";
import type { EditKind } from "./edit-kind.ts";

/** A take gets bars at its end, or loses them. What lies in them comes and goes by edits of its own. */
export interface SetLength {
  readonly kind: "setLength";
  readonly from: number;
  readonly to: number;
}

export const setLength: EditKind<SetLength> = {
  apply(pattern, { from, to }) {
    if (pattern.lengthTicks !== from)
      throw new StaleEditError("The take's length has changed since this edit was made.");
    return { ...pattern, lengthTicks: to };
  },
  invert: ({ kind, from, to }) => ({ kind, from: to, to: from }),
  isEmpty: ({ from, to }) => from === to,
  touches: () => ({ hitIds: [], parts: ["lengthTicks"] }),
  between: (from, to) => [{ kind: "setLength", from: from.lengthTicks, to: to.lengthTicks }],
  fields: { from: tick, to: tick },
};

import { orNull } from "../../json-shape.ts";
import { type OtherSide, turnSides } from "../other-side.ts";
import { shared } from "../shapes/values.ts";
import { isSameValue, StaleEditError } from "../stale.ts";
import type { EditKind } from "./edit-kind.ts";

/** Keeps all settings aside under a letter; null is none. */
export interface KeepSide {
  readonly kind: "keepSide";
  readonly from: OtherSide | null;
  readonly to: OtherSide | null;
}

/** Turns to the settings that are kept aside. */
export interface TurnSide {
  readonly kind: "turnSide";
}

export const keepSide: EditKind<KeepSide> = {
  apply({ otherSide = null, ...rest }, { from, to }) {
    if (!isSameValue(otherSide, from)) throw new StaleEditError("Another set of settings is kept by now.");
    return to ? { ...rest, otherSide: to } : rest;
  },
  invert: ({ kind, from, to }) => ({ kind, from: to, to: from }),
  isEmpty: ({ from, to }) => isSameValue(from, to),
  touches: () => ({ hitIds: [], parts: ["otherSide"] }),
  between: (from, to) => [{ kind: "keepSide", from: from.otherSide ?? null, to: to.otherSide ?? null }],
  fields: { from: orNull(shared("otherSide")), to: orNull(shared("otherSide")) },
};

export const turnSide: EditKind<TurnSide> = {
  apply(pattern) {
    if (!pattern.otherSide) throw new StaleEditError("No second set of settings is kept.");
    return turnSides(pattern);
  },
  invert: (edit) => edit,
  isEmpty: () => false,
  touches: () => ({ hitIds: [], parts: ["lanes", "arrangement", "otherSide"] }),
  // Only where it leads all the way: what else differs is told by the kinds that change it.
  between: (from, to) => (from.otherSide && isSameValue(turnSides(from), to) ? [{ kind: "turnSide" }] : []),
  fields: {},
};

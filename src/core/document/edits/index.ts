import { record } from "../../json-shape.ts";
import type { Pattern } from "../pattern.ts";
import { SHARED_SHAPES } from "../shapes/pattern-shape.ts";
import { shared } from "../shapes/values.ts";
import { type AddHits, addHits, type RemoveHits, removeHits } from "./add-hits.ts";
import { type Arrange, arrange } from "./arrange.ts";
import { type ChangeMessages, changeMessages } from "./change-messages.ts";
import type { EditKind, Touched } from "./edit-kind.ts";
import { type KeepSide, keepSide, type TurnSide, turnSide } from "./keep-side.ts";
import { type MarkHits, markHits } from "./mark-hits.ts";
import { type MarkPasses, markPasses } from "./mark-passes.ts";
import { type MoveHits, moveHits } from "./move-hits.ts";
import { type MuteHits, muteHits } from "./mute-hits.ts";
import { type ReassignHits, reassignHits } from "./reassign-hits.ts";
import { type Retime, retime } from "./retime.ts";
import { type SetDrumStream, setDrumStream } from "./set-drum-stream.ts";
import { type SetFullness, setFullness } from "./set-fullness.ts";
import { type SetLength, setLength } from "./set-length.ts";
import { type SetLengths, setLengths } from "./set-lengths.ts";
import { type SetLevels, setLevels } from "./set-levels.ts";
import { type SetOutgoingMap, setOutgoingMap } from "./set-outgoing-map.ts";
import { type SetTreatments, setTreatments } from "./set-treatments.ts";
import { type SetVelocity, setVelocity } from "./set-velocity.ts";

/** One change to a pattern, as plain data: it can be applied, taken back, merged, sent and stored. */
export type Edit =
  | Retime
  | SetLength
  | SetDrumStream
  | RemoveHits
  | MoveHits
  | SetVelocity
  | SetLengths
  | MarkHits
  | MarkPasses
  | MuteHits
  | ReassignHits
  | AddHits
  | SetTreatments
  | SetOutgoingMap
  | SetLevels
  | SetFullness
  | ChangeMessages
  | KeepSide
  | TurnSide
  | Arrange
  | Together;

/** Several changes that are one step. */
export interface Together {
  readonly kind: "together";
  readonly edits: readonly Edit[];
}

const together: EditKind<Together> = {
  apply: (pattern, { edits }) => edits.reduce(applyEdit, pattern),
  invert: ({ kind, edits }) => ({ kind, edits: edits.toReversed().map(invertEdit) }),
  isEmpty: ({ edits }) => edits.every(isEmptyEdit),
  touches({ edits }) {
    const touched = edits.map(touchedBy);
    return {
      hitIds: [...new Set(touched.flatMap(({ hitIds }) => hitIds))],
      ...(touched.some(({ areAllMoved }) => areAllMoved) ? { areAllMoved: true } : {}),
      parts: [...new Set(touched.flatMap(({ parts }) => parts))],
    };
  },
  between: () => [],
  // Simple ones only, so that a request cannot nest without end.
  fields: { edits: { type: "array", maxItems: 100, items: shared("simpleEdit") } },
};

/** Every kind of edit, in the order in which `editBetween` makes them: each finds what those before it have made. */
export const EDIT_KINDS = {
  turnSide,
  setLength,
  retime,
  setDrumStream,
  removeHits,
  moveHits,
  setVelocity,
  setLengths,
  markHits,
  markPasses,
  muteHits,
  setTreatments,
  reassignHits,
  addHits,
  setOutgoingMap,
  setLevels,
  setFullness,
  changeMessages,
  keepSide,
  arrange,
  together,
} satisfies { readonly [Kind in Edit["kind"]]: EditKind<Extract<Edit, { readonly kind: Kind }>, Edit> };

/** The record holds for each kind what takes edits of that kind, which the compiler knows of each and not of any. */
function kindOf(edit: Edit): EditKind<Edit> {
  return EDIT_KINDS[edit.kind] as unknown as EditKind<Edit>;
}

/**
 * Makes the next pattern.
 * @throws StaleEditError if something that the edit names is gone or holds another value; it is never bent to fit
 */
export function applyEdit(pattern: Pattern, edit: Edit): Pattern {
  return kindOf(edit).apply(pattern, edit);
}

/** Returns the edit that takes `edit` back. Needs no pattern: each entry carries the value before and after. */
export function invertEdit(edit: Edit): Edit {
  return kindOf(edit).invert(edit);
}

/** Whether applying the edit would leave the pattern as it is. Such edits are not stored. */
export function isEmptyEdit(edit: Edit): boolean {
  return kindOf(edit).isEmpty(edit);
}

/** What an edit may change. */
export function touchedBy(edit: Edit): Touched {
  return kindOf(edit).touches(edit);
}

/**
 * Folds two edits of one gesture into one, so that a drag is one undo step.
 * @returns null if they are of different kinds, or of one that is not folded, and must stay two
 */
export function mergeEdits(first: Edit, second: Edit): Edit | null {
  return first.kind === second.kind ? (kindOf(first).merge?.(first, second) ?? null) : null;
}

/**
 * The edit that makes `to` of `from`, so that going back to a version is one step that can be undone itself.
 * @param from the pattern that the edit will be applied to
 * @param to another state of the same take
 */
export function editBetween(from: Pattern, to: Pattern): Edit {
  const edits: Edit[] = [];
  let at = from;
  for (const kind of Object.values(EDIT_KINDS)) {
    for (const edit of kind.between(at, to)) {
      if (isEmptyEdit(edit)) continue;
      edits.push(edit);
      at = applyEdit(at, edit);
    }
  }
  return { kind: "together", edits };
}

const oneOf = (kinds: readonly string[]) => ({
  type: "object",
  discriminator: { propertyName: "kind" },
  required: ["kind"],
  oneOf: kinds.map(shared),
});
const names = Object.keys(EDIT_KINDS);

/** The shapes of all edits, as `shared` refers to them; `edit` is any of them. */
export const EDIT_SHAPES = {
  ...SHARED_SHAPES,
  ...Object.fromEntries(
    Object.entries(EDIT_KINDS).map(([kind, { fields }]) => [kind, record({ kind: { const: kind }, ...fields })]),
  ),
  simpleEdit: oneOf(names.filter((name) => name !== "together")),
  edit: oneOf(names),
};

import type { Edit, TreatmentChange, VelocityChange } from "./edit-kinds.ts";

/**
 * Folds two edits of one gesture into one, so that a drag is one undo step.
 * @returns null if they are of different kinds and must stay two
 */
export function mergeEdits(first: Edit, second: Edit): Edit | null {
  if (first.kind === "moveHits" && second.kind === "moveHits") {
    const moves = foldChanges(
      first.moves,
      second.moves,
      (move) => move.hitId,
      (a, b) => ({ ...b, fromTick: a.fromTick }),
    );
    return { kind: "moveHits", moves };
  }
  if (first.kind === "setVelocity" && second.kind === "setVelocity") {
    const fold = (a: VelocityChange, b: VelocityChange) => ({ ...b, fromVelocity: a.fromVelocity });
    return { kind: "setVelocity", changes: foldChanges(first.changes, second.changes, (change) => change.hitId, fold) };
  }
  if (first.kind === "setTreatments" && second.kind === "setTreatments") {
    const fold = (a: TreatmentChange, b: TreatmentChange) => ({ ...b, from: a.from });
    return {
      kind: "setTreatments",
      changes: foldChanges(first.changes, second.changes, (change) => change.voiceId, fold),
    };
  }
  return null;
}

function foldChanges<Change>(
  first: readonly Change[],
  second: readonly Change[],
  keyOf: (change: Change) => string,
  fold: (earlier: Change, later: Change) => Change,
): readonly Change[] {
  const byKey = new Map<string, Change>();
  for (const change of [...first, ...second]) {
    const earlier = byKey.get(keyOf(change));
    byKey.set(keyOf(change), earlier ? fold(earlier, change) : change);
  }
  return [...byKey.values()];
}

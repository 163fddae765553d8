import { id, record } from "../../json-shape.ts";
import { list, shared } from "../shapes/values.ts";
import { isSameValue, StaleEditError } from "../stale.ts";
import type { Treatment } from "../treatment.ts";
import { foldChanges, turnedRound } from "./change-hits.ts";
import type { EditKind } from "./edit-kind.ts";

/** Lanes are treated otherwise. */
export interface SetTreatments {
  readonly kind: "setTreatments";
  readonly changes: readonly TreatmentChange[];
}

export interface TreatmentChange {
  readonly voiceId: string;
  readonly from: Treatment;
  readonly to: Treatment;
}

export const setTreatments: EditKind<SetTreatments> = {
  apply(pattern, { changes }) {
    const lanesById = new Map(pattern.lanes.map((lane) => [lane.voiceId, lane]));
    for (const { voiceId, from, to } of changes) {
      const lane = lanesById.get(voiceId);
      if (!lane || !isSameValue(lane.treatment, from)) {
        throw new StaleEditError(`The settings of ${voiceId} have changed since this edit was made.`);
      }
      lanesById.set(voiceId, { ...lane, treatment: to });
    }
    return { ...pattern, lanes: [...lanesById.values()] };
  },
  invert: ({ kind, changes }) => ({ kind, changes: turnedRound(changes) }),
  isEmpty: ({ changes }) => changes.every(({ from, to }) => isSameValue(from, to)),
  touches: () => ({ hitIds: [], parts: ["lanes"] }),
  merge: (first, second) => ({
    kind: "setTreatments",
    changes: foldChanges(
      first.changes,
      second.changes,
      ({ voiceId }) => voiceId,
      (earlier, later) => ({ ...later, from: earlier.from }),
    ),
  }),
  between(from, to) {
    const after = new Map(to.lanes.map(({ voiceId, treatment }) => [voiceId, treatment]));
    const changes = from.lanes.flatMap(({ voiceId, treatment }) => {
      const wanted = after.get(voiceId);
      return wanted && !isSameValue(treatment, wanted) ? [{ voiceId, from: treatment, to: wanted }] : [];
    });
    return [{ kind: "setTreatments", changes }];
  },
  fields: { changes: list(record({ voiceId: id, from: shared("treatment"), to: shared("treatment") })) },
};

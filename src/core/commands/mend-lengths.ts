import type { Edit } from "../document/index.ts";
import type { Hit, Pattern } from "../document/pattern.ts";

export type LengthFaultKind = "hanging" | "zeroLength" | "overlong" | "overlapping";

/** A drum note whose length can spoil playback: a drum hit has none, but the file it goes out in does. */
export interface LengthFault {
  readonly hitId: string;
  readonly kind: LengthFaultKind;
  /** The length that it would be given, in ticks. */
  readonly mendedTicks: number;
}

/** Gives notes the lengths that were proposed for them. */
export function mendLengths(pattern: Pattern, faults: readonly LengthFault[]): Edit {
  const hits = new Map(pattern.hits.map((hit) => [hit.id, hit]));
  const changes = faults.flatMap(({ hitId, mendedTicks }) => {
    const hit = hits.get(hitId);
    return hit ? [{ hitId, from: hit.lengthTicks ?? null, to: mendedTicks }] : [];
  });
  return { kind: "setLengths", changes };
}

/** Gives hits the lengths back that they have in the file. */
export function unmendLengths(hits: readonly Hit[]): Edit {
  const changes = hits.flatMap(({ id, lengthTicks }) =>
    lengthTicks === undefined ? [] : [{ hitId: id, from: lengthTicks, to: null }],
  );
  return { kind: "setLengths", changes };
}

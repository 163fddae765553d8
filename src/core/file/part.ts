import type { Edit } from "../document/index.ts";
import type { Pattern } from "../document/pattern.ts";

/** One voice, or one stroke of it. */
export interface Part {
  readonly voiceId: string;
  /** Null for all strokes. */
  readonly articulationId: string | null;
}

export function isOfPart(hit: { readonly voiceId: string; readonly articulationId: string }, part: Part): boolean {
  return hit.voiceId === part.voiceId && (part.articulationId === null || hit.articulationId === part.articulationId);
}

/** The edit that takes the hits of a part away from the pattern that they were taken out of, and a lane that is left empty. */
export function removePart(pattern: Pattern, part: Part): Edit {
  const removed = pattern.hits.filter((hit) => isOfPart(hit, part));
  const left = pattern.hits.filter((hit) => !isOfPart(hit, part));
  const isGone = left.every((hit) => hit.voiceId !== part.voiceId);
  const toLanes = pattern.lanes.filter(({ voiceId }) => !(isGone && voiceId === part.voiceId));
  return {
    kind: "together",
    edits: [
      { kind: "removeHits", hits: removed },
      { kind: "reassignHits", changes: [], noteMaps: null, fromLanes: pattern.lanes, toLanes },
    ],
  };
}

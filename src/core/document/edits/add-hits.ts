import type { Hit } from "../pattern.ts";
import { list, shared } from "../shapes/values.ts";
import { hitsWithout, withHits, withoutHits } from "./change-hits.ts";
import type { EditKind } from "./edit-kind.ts";

export interface AddHits {
  readonly kind: "addHits";
  readonly hits: readonly Hit[];
}

export interface RemoveHits {
  readonly kind: "removeHits";
  readonly hits: readonly Hit[];
}

const both = {
  isEmpty: ({ hits }: AddHits | RemoveHits) => hits.length === 0,
  touches: ({ hits }: AddHits | RemoveHits) => ({ hitIds: hits.map(({ id }) => id), parts: [] }),
  fields: { hits: list(shared("hit")) },
};

export const addHits: EditKind<AddHits, RemoveHits> = {
  ...both,
  apply: (pattern, { hits }) => ({ ...pattern, hits: withHits(pattern, hits) }),
  invert: ({ hits }) => ({ kind: "removeHits", hits }),
  between: (from, to) => [{ kind: "addHits", hits: hitsWithout(to, from) }],
};

export const removeHits: EditKind<RemoveHits, AddHits> = {
  ...both,
  apply: (pattern, { hits }) => ({ ...pattern, hits: withoutHits(pattern, hits) }),
  invert: ({ hits }) => ({ kind: "addHits", hits }),
  between: (from, to) => [{ kind: "removeHits", hits: hitsWithout(from, to) }],
};

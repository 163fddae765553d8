import type { Limit } from "../../limit.ts";
import type { Phrase } from "../../phrase.ts";
import type { Asked } from "../asked.ts";
import type { SiftedHit } from "../sift-lane.ts";

/** All that there is to know of one thing that a rule can ask of a hit. */
export interface TestKind<Test> {
  /** As it is offered. */
  readonly name: string;
  /** What it begins with. */
  readonly first: Test;
  /** The shapes of its fields beside `kind`, in JSON schema. */
  readonly fields: Readonly<Record<string, object>>;
  /** Where its words stand in the sentence of a rule: which hits, or when and how they are played. */
  readonly place: "noun" | "role" | "condition";
  phrase(test: Test): Phrase<Test>;
  holds(test: Test, one: SiftedHit, asked: Asked): boolean;
}

/** Some of a list, in JSON schema. */
export const some = (items: object) => ({ type: "array", minItems: 1, maxItems: 64, items });

/** `20 to 60`: both ends set in place, where each takes the other along. */
export const fromTo = <Test extends { readonly from: number; readonly to: number }>(
  test: Test,
  first: Limit,
  last: Limit,
): Phrase<Test> => [
  {
    kind: "number",
    limit: first,
    value: test.from,
    set: (from) => ({ ...test, from, to: Math.max(from, test.to) }),
  },
  " to ",
  { kind: "number", limit: last, value: test.to, set: (to) => ({ ...test, to, from: Math.min(to, test.from) }) },
];

/** The one of a list that has an id. */
export function oneOf<Choice extends string>(choices: readonly Choice[], id: string): Choice {
  return choices.find((choice) => choice === id) ?? choices[0]!;
}

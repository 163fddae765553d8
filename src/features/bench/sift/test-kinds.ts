import type { SiftTest } from "../../../core/sift/index.ts";

type Kind = SiftTest["kind"];

/** The tests to choose from, as they are offered, and how each begins. */
export const TEST_KINDS: readonly { readonly kind: Kind; readonly name: string; readonly first: SiftTest }[] = [
  { kind: "voices", name: "a drum", first: { kind: "voices", voiceIds: [] } },
  { kind: "families", name: "a family of drums", first: { kind: "families", families: ["hats"] } },
  { kind: "stroke", name: "a stroke", first: { kind: "stroke", voiceId: "hat", articulationId: "closed" } },
  { kind: "roles", name: "ghosts, strokes or accents", first: { kind: "roles", roles: ["ghost"] } },
  { kind: "velocity", name: "loudness", first: { kind: "velocity", from: 1, to: 60 } },
  { kind: "places", name: "a place in the bar", first: { kind: "places", places: ["offBeats"] } },
  {
    kind: "steps",
    name: "steps of the bar",
    first: { kind: "steps", grid: { family: "straight", denominator: 16 }, steps: [1] },
  },
  { kind: "drift", name: "how early or late", first: { kind: "drift", fromMs: 10, toMs: 100 } },
  { kind: "bars", name: "some bars", first: { kind: "bars", from: 1, to: 4 } },
  { kind: "company", name: "what is struck with it", first: { kind: "company", company: "together" } },
  { kind: "pinned", name: "set by hand", first: { kind: "pinned", what: "time" } },
];

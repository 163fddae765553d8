import { createRandom } from "../../src/standin/random.ts";
import type { Note } from "../written/player.ts";

// What a kit of cheap pads adds to what is played: pads that trigger twice, some of them soon and loud, and pads that hear their
// neighbours late, seldom and now and then nearly as loud as a ghost.

/** Who hears whom: the note of a stroke, and that of a pad beside it. */
const NEIGHBOURS = [
  [36, 41],
  [36, 38],
  [36, 37],
  [38, 42],
  [38, 50],
  [50, 48],
  [48, 45],
  [42, 51],
  [49, 51],
] as const;
const HEARING = [0, 0, 0.25, 0.6];
const DOUBLING = [0, 0, 0, 0.03, 0.08];

/** The notes of a take, and what the pads make of them besides. The same number gives the same faults. */
export function withPadFaults(notes: readonly Note[], number: number): readonly Note[] {
  const random = createRandom(number * 104_729 + 1);
  const between = (low: number, high: number) => low + (high - low) * random.uniform();
  const oneOf = (list: readonly number[]) => list[Math.floor(random.uniform() * list.length)]!;
  const doublingOf = new Map([...new Set(notes.map(({ note }) => note))].map((note) => [note, oneOf(DOUBLING)]));
  const pairs = NEIGHBOURS.map(([from, to]) => ({ from, to, share: oneOf(HEARING), gain: between(0.05, 0.2) }));
  return notes.flatMap((struck) => {
    const { ms, note, velocity, truth } = struck;
    if (truth.kind !== "hit") return [struck];
    const made = [struck];
    const add = (kind: "double" | "crossTalk", on: number, afterMs: number, loudness: number) =>
      made.push({
        ms: ms + afterMs,
        note: on,
        velocity: Math.max(1, Math.min(127, Math.round(loudness))),
        truth: { ...truth, kind },
      });
    if (random.chance((doublingOf.get(note) ?? 0) * Math.min(1, velocity / 90))) {
      // Mostly soon: how long it rings is drawn from what decays.
      const ringMs = Math.min(45, 8 - 12 * Math.log(1 - random.uniform()));
      add("double", note, ringMs, velocity * between(0.15, 0.6));
    }
    for (const { from, to, share, gain } of pairs) {
      if (from !== note || velocity <= 70 || !random.chance((share * (velocity - 60)) / 60)) continue;
      add("crossTalk", to, between(-1, 11), velocity * gain * between(0.6, 1.5));
    }
    return made;
  });
}

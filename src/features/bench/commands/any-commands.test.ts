import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { openABench } from "../testing/a-bench.ts";
import { COMMANDS, commandById } from "./commands.ts";

// Whatever is done in whatever order: nothing is lost unasked, and undoing all of it gives back the take.

/** Commands that are asked to write hits or to take them away. */
const WRITING = new Set([
  ...["remove", "cut", "paste", "pasteOnto", "repeat", "split", "glue", "clearLoop", "fill", "burst"],
  ...["duplicateBars", "removeBars"],
]);
/** These need the browser, or go through the history themselves. */
const LEFT_OUT = new Set(["play", "playHere", "undo", "redo", "barsToFile"]);

const someCommands = fc.array(
  fc.record({
    id: fc.constantFrom(...COMMANDS.map(({ id }) => id).filter((id) => !LEFT_OUT.has(id))),
    picks: fc.subarray(["k", "h1", "a", "h2", "b", "c"]),
    open: fc.constantFrom("hat", "snare", "kick"),
  }),
  { maxLength: 25 },
);

describe("any commands in any order", () => {
  it("lose and double no hit unless they are asked to, and are all undone by undo", () => {
    fc.assert(
      fc.property(someCommands, (given) => {
        const bench = openABench();
        const { store } = bench;
        const start = store.getState().pattern;
        for (const { id, picks, open } of given) {
          store.openLane(open);
          if (picks.length > 0) store.pick(new Set(picks));
          const before = store.getState().pattern.hits.map((hit) => hit.id);
          commandById(id)?.run(bench);
          const { hits, lengthTicks } = store.getState().pattern;
          expect(new Set(hits.map((hit) => hit.id)).size).toBe(hits.length);
          if (!WRITING.has(id)) expect(hits.map((hit) => hit.id).sort()).toEqual(before.sort());
          for (const hit of hits) {
            const tick = hit.pinnedTick ?? hit.recordedTick ?? -1;
            expect(tick >= 0 && tick < lengthTicks).toBe(true);
            const velocity = hit.pinnedVelocity ?? hit.recordedVelocity ?? 0;
            expect(velocity >= 1 && velocity <= 127).toBe(true);
          }
        }
        while (store.getState().history.done.length > 0) store.undo();
        expect(store.getState().pattern).toEqual(start);
        store.close();
      }),
      { numRuns: 120 },
    );
  });
});

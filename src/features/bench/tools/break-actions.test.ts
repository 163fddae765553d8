import { beforeEach, describe, expect, it } from "vitest";
import { hitAt, laneOf, patternOf } from "../../../core/testing/patterns.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { undo } from "../../../store/bench/bench-context.ts";
import { openBenchOn } from "../testing/a-bench.ts";
import { cutBreak, openLastHat } from "./break-actions.ts";

let bench: Bench;
beforeEach(() => {
  const hat = (tick: number) => hitAt(tick, { id: `h${tick}`, voiceId: "hat", articulationId: "closed", note: 42 });
  const hits = [
    hitAt(1440, { id: "s3" }),
    hat(1440),
    hitAt(1680, { id: "k", voiceId: "kick", articulationId: "main", note: 36 }),
    hat(1680),
    hitAt(1920, { id: "next" }),
  ];
  bench = openBenchOn(patternOf(hits, { lengthTicks: 7680, lanes: [laneOf("hat"), laneOf("snare"), laneOf("kick")] }));
  bench.store.setPlayhead(1920);
});
const silent = () => bench.store.take().hits.flatMap(({ id, isMuted }) => (isMuted ? [id] : []));

describe("a break before a bar", () => {
  it("silences its last beat, or more, and nothing after the bar line; one undo brings it back", () => {
    expect(cutBreak(bench, 1)).toBe("Muted 4 hits in the last beat of bar 1.");
    expect(silent()).toEqual(["s3", "h1440", "k", "h1680"]);
    undo(bench);
    expect(silent()).toEqual([]);
    // The playhead inside a bar means the next bar line.
    bench.store.setPlayhead(500);
    expect(cutBreak(bench, 2)).toContain("the last 2 beats of bar 1");
  });

  it("lets the drums of the selected hits go on, and says so", () => {
    bench.store.pick(new Set(["h1440"]));
    expect(cutBreak(bench, 1)).toBe("Muted 2 hits in the last beat of bar 1; hi-hat goes on.");
    expect(silent()).toEqual(["s3", "k"]);
  });

  it("says where there is no bar, and where nothing sounds", () => {
    bench.store.setPlayhead(0);
    expect(cutBreak(bench, 1)).toContain("no bar before this one");
    bench.store.setPlayhead(3840);
    expect(cutBreak(bench, 1)).toBe("Nothing sounds in the last beat of bar 2.");
  });
});

describe("an open hat into a bar", () => {
  it("is the last one of the bar before, if it is on an off-beat", () => {
    expect(openLastHat(bench)).toBe("Opened the last hat of bar 1, after beat 4.");
    expect(bench.store.take().hits.find(({ id }) => id === "h1680")!.articulationId).toBe("open");
    expect(openLastHat(bench)).toContain("open already");
    bench.store.setPlayhead(3840);
    expect(openLastHat(bench)).toContain("No hat is struck on the last off-beat of bar 2");
  });
});

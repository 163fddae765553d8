import { expect, it } from "vitest";
import { findGrid } from "../../../core/study/index.ts";
import { hitAt, laneOf, patternOf } from "../../../core/testing/patterns.ts";
import { buildTimeMaps, type Grid } from "../../../core/time/index.ts";
import { headWords } from "./head-words.ts";

const QUARTERS: Grid = { family: "straight", denominator: 4 };
const SIXTEENTHS: Grid = { family: "straight", denominator: 16, swingPercent: 58 };

it("a lane's head says how its voice is quantized in a line of words, or in a few letters a line", () => {
  const timingOf = (more: object) => laneOf("snare", { isOn: true, strengthPercent: 80, ...more }).treatment.timing;
  const triplets = { startTick: 0, endTick: 480, grid: { family: "triplet", denominator: 8 } };
  expect(headWords(timingOf({ grid: QUARTERS, ghostGrid: SIXTEENTHS, stretches: [triplets] }), null)).toEqual({
    words: "80 % to quarters, ghosts sixteenths swung 58 %, others in 1 place",
    lines: ["80 % to 1/4", "ghosts 1/16", "others: 1"],
  });
  expect(headWords(timingOf({ grid: SIXTEENTHS }), null).lines).toEqual(["80 % to 1/16", "swung 58 %"]);
});

it("it says how the voice was played as long as nothing is done to it, and nothing before that is known", () => {
  const { timing } = laneOf("snare").treatment;
  const hits = Array.from({ length: 32 }, (_, beat) => hitAt(480 * beat + 12, { id: `${beat}` }));
  const found = findGrid(hits, buildTimeMaps(patternOf(hits)));
  expect(headWords(timing, found)).toEqual({ words: "quarters, 13 ms late", lines: ["1/4", "13 ms late"] });
  expect(headWords(timing, found, 10)).toEqual({ words: "quarters, 3 ms late", lines: ["1/4", "3 ms late"] });
  expect(headWords(timing, null)).toEqual({ words: "", lines: [] });
});

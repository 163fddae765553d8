import { describe, expect, it } from "vitest";
import { writeMidiFile } from "../../src/core/smf/index.ts";
import { createRandom } from "../../src/standin/random.ts";
import { scoreWritten } from "../written/score-written.ts";
import { drawPart } from "./draw-part.ts";
import { DRAWN_HANDS, playDrawn } from "./play-drawn.ts";
import { STYLES } from "./styles.ts";

describe("styles", () => {
  it("have as many steps in every line as their bar has", () => {
    for (const { name, stepsOfBar, lines, numerator } of STYLES) {
      expect([name, stepsOfBar % numerator]).toEqual([name, 0]);
      for (const { ways, drums } of lines) {
        for (const way of ways)
          expect([name, drums, way.every(({ step }) => step < stepsOfBar)]).toEqual([name, drums, true]);
      }
    }
    expect(new Set(STYLES.map(({ name }) => name)).size).toBe(STYLES.length);
  });
});

describe("a drawn take", () => {
  it("is the same for the same number and another one for another", () => {
    const bytesOf = (number: number) => Buffer.from(writeMidiFile(playDrawn(number, "normal").file)).toString("base64");
    expect(bytesOf(3)).toBe(bytesOf(3));
    expect(bytesOf(3)).not.toBe(bytesOf(3 + STYLES.length));
  });

  it("strikes no drum twice at once, and stays in its bars", () => {
    for (const number of STYLES.keys()) {
      const { strokes, bars, barQuarters } = drawPart(number, createRandom(number));
      const keys = strokes.map(({ drum, quarter }) => `${drum} ${quarter.toFixed(3)}`);
      expect(new Set(keys).size).toBe(keys.length);
      expect(strokes.every(({ quarter }) => quarter >= 0 && quarter < bars.length * barQuarters)).toBe(true);
    }
  });

  it("comes to the same strokes by cheap pads, and to what they add", () => {
    const strokesOf = (hasPadFaults: boolean) =>
      playDrawn(4, "normal", hasPadFaults).truth.filter(({ kind }) => kind === "hit" || kind === "grace");
    const withoutIds = (hasPadFaults: boolean) => strokesOf(hasPadFaults).map(({ id: _, ...stroke }) => stroke);
    expect(withoutIds(true)).toEqual(withoutIds(false));
    const added = [...STYLES.keys()].flatMap((number) => playDrawn(number, "normal", true).truth);
    for (const kind of ["double", "crossTalk"])
      expect(added.filter((one) => one.kind === kind).length).toBeGreaterThan(50);
    const scores = [...STYLES.keys()].map((number) => scoreWritten(playDrawn(number, "normal", true)));
    const sum = (what: "talks" | "talksRight" | "talksFound") => scores.reduce((all, one) => all + one[what], 0);
    expect(sum("talksRight") / sum("talks")).toBeGreaterThan(0.9);
    expect(sum("talksRight") / sum("talksFound")).toBeGreaterThan(0.97);
  });

  it("played tightly is nearly all on its slots, in every style", () => {
    for (const number of STYLES.keys()) {
      const { title, hits, onSlot } = scoreWritten(playDrawn(number, DRAWN_HANDS[0]));
      expect([title, onSlot > 0.98 * hits]).toEqual([title, true]);
    }
  });
});

import { describe, expect, it } from "vitest";
import { type Groove, hitsByVoice } from "../document/index.ts";
import { buildTimeMaps } from "../time/index.ts";
import { treat } from "../treat.ts";
import { GROOVES, makeLayer, neutralPart, PLAIN_NUMBERS } from "./index.ts";

const ticksOf = (groove: Groove, voiceId: string) => {
  const part = neutralPart(groove, 100);
  const { treatment } = part.lanes.find((lane) => lane.voiceId === voiceId)!;
  const hits = hitsByVoice(part.hits).get(voiceId)!;
  return [...treat(hits, treatment, buildTimeMaps(part), part.lengthTicks, "hats").ticks];
};

describe("a plain part", () => {
  it("plays a groove and nothing else: its hats are on every place, and where the groove has them", () => {
    const groove = GROOVES.find(({ name }) => name === "Heavy cargo")!;
    const { slots } = groove.layers[0]!;
    expect(ticksOf(groove, "hat")).toEqual(slots.map(({ offset }, slot) => Math.round((slot + offset) * 240)));
  });

  it("is as long as the groove, whatever that is, and has a ride only where the groove says something of cymbals", () => {
    for (const lengthQuarters of [1, 3, 3.5, 8, 32]) {
      const layers = [makeLayer({ ...PLAIN_NUMBERS, lengthQuarters })];
      const { lengthTicks, hits, lanes } = neutralPart({ ...GROOVES[0]!, lengthQuarters, layers }, 90);
      expect((lengthTicks / 960) % lengthQuarters).toBe(0);
      expect(lengthTicks).toBeGreaterThanOrEqual(4 * 960 * 0.8);
      expect(hits.every(({ recordedTick }) => recordedTick! < lengthTicks)).toBe(true);
      expect(lanes.map(({ voiceId }) => voiceId)).toEqual(["hat", "snare", "kick"]);
    }
    const cymbals = [makeLayer(PLAIN_NUMBERS), makeLayer(PLAIN_NUMBERS, "cymbals")];
    expect(neutralPart({ ...GROOVES[0]!, layers: cymbals }, 90).lanes).toHaveLength(4);
  });
});

import { describe, expect, it } from "vitest";
import { layerAt, layerBorders, parseBorders } from "./index.ts";

describe("layers of a kit", () => {
  const kit = { name: "Deck kit", borders: [45, 76, 104], ofVoices: { snare: [30, 60, 90, 110], kick: [] } };

  it("are those of a voice, or the usual ones", () => {
    expect(layerBorders(kit, "hat")).toEqual([45, 76, 104]);
    expect(layerBorders(kit, "snare")).toHaveLength(4);
    expect(layerBorders(kit, "kick")).toEqual([]);
    // A voice may be called like something that every object has.
    expect(layerBorders(kit, "toString")).toEqual([45, 76, 104]);
  });

  it("are triggered up to their border", () => {
    expect([1, 45, 46, 104, 105, 127].map((velocity) => layerAt(kit.borders, velocity))).toEqual([0, 0, 1, 2, 3, 3]);
    expect(layerAt([], 64)).toBe(0);
  });

  it("are typed as rising velocities, and refused in words otherwise", () => {
    expect(parseBorders("45, 76 104")).toEqual([45, 76, 104]);
    expect(parseBorders("")).toEqual([]);
    expect(parseBorders("45, loud")).toBe("“loud” is no velocity from 1 to 126.");
    expect(parseBorders("0, 40")).toBe("“0” is no velocity from 1 to 126.");
    expect(parseBorders("76, 45")).toBe("The velocities have to rise.");
  });
});

import { describe, expect, it } from "vitest";
import { FAMILIES } from "../../core/document/index.ts";
import { GENERAL_MIDI } from "../../core/notemap/index.ts";
import { RECIPES } from "./recipes.ts";
import { soundLike } from "./sound-like.ts";

describe("the sound of a stroke", () => {
  it("is its own for every stroke of General MIDI", () => {
    for (const { id, family, articulations } of GENERAL_MIDI.voices) {
      for (const { id: stroke, mark } of articulations) {
        expect(soundLike(`${id}/${stroke}`, family, mark)).toBe(`${id}/${stroke}`);
      }
    }
  });

  it("is that of its family for drums that people add, open or struck on the rim as they say", () => {
    expect(soundLike("sock/loose", "hats", "open")).toBe("hat/open");
    expect(soundLike("piccolo/edge", "snare", "rim")).toBe("snare/rim-shot");
    expect(soundLike("gong/strike", "cymbals", "none")).toBe("crash/crash");
    for (const family of FAMILIES) expect(RECIPES[soundLike("new/strike", family, "none")]).toBeDefined();
  });
});

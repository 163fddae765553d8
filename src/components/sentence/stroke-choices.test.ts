import { describe, expect, it } from "vitest";
import { GENERAL_MIDI } from "../../core/notemap/index.ts";
import { hasWord } from "./find-by-word.ts";
import { choicesOf, meaningOfId } from "./stroke-choices.ts";

describe("the list of drums and strokes", () => {
  it("begins with the strokes of the drum that it is about, and has every stroke once", () => {
    const [own, ...others] = choicesOf(GENERAL_MIDI, "hat");
    expect(own!.every(({ id }) => meaningOfId(id).voiceId === "hat")).toBe(true);
    expect(own!.length).toBeGreaterThan(2);
    const ids = [own!, ...others].flat().map(({ id }) => id);
    expect(new Set(ids).size).toBe(ids.length);
    expect([...ids].sort()).toEqual(
      choicesOf(GENERAL_MIDI)
        .flat()
        .map(({ id }) => id)
        .sort(),
    );
  });

  it("is found in by any word", () => {
    expect(hasWord("Hi-hat, open", "op")).toBe(true);
    expect(hasWord("Hi-hat, open", "hi-h")).toBe(true);
    expect(hasWord("Snare, rim shot", "shot")).toBe(true);
    expect(hasWord("Snare, rim shot", "im")).toBe(false);
  });
});

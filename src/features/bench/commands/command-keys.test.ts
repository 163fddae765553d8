import { describe, expect, it } from "vitest";
import { commandOfKeys, keysOfCommand, withKey } from "../../../store/page/key-choices.ts";
import { COMMANDS, commandById } from "./commands.ts";

const play = commandById("play")!;
const loop = commandById("loop")!;

describe("keys of commands", () => {
  it("are the usual ones until others are chosen", () => {
    expect(commandOfKeys("Space", {}, COMMANDS)).toBe(play);
    expect(commandOfKeys("F9", {}, COMMANDS)).toBeUndefined();
    const change = withKey({}, play, "F9", COMMANDS);
    if (!change.ok) throw new Error(change.refusal);
    expect(commandOfKeys("F9", change.choices, COMMANDS)).toBe(play);
    expect(commandOfKeys("Space", change.choices, COMMANDS)).toBeUndefined();
    expect(keysOfCommand(loop, change.choices)).toEqual(["L"]);
  });

  it("are usual again when the usual key is chosen", () => {
    expect(withKey({ play: ["F9"] }, play, "Space", COMMANDS)).toEqual({ ok: true, choices: {} });
  });

  it("are not taken from another command, nor from the sheet of keys", () => {
    expect(withKey({}, play, "L", COMMANDS)).toMatchObject({ ok: false, refusal: expect.stringContaining(loop.name) });
    expect(withKey({}, play, "?", COMMANDS)).toMatchObject({ ok: false });
    // Once the other has another key, its old one is free.
    expect(withKey({ loop: ["F8"] }, play, "L", COMMANDS)).toEqual({
      ok: true,
      choices: { loop: ["F8"], play: ["L"] },
    });
  });
});

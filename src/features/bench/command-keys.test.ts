import { describe, expect, it } from "vitest";
import { commandOfKeys, keysOfCommand, withKey } from "./command-keys.ts";
import { commandById } from "./commands.ts";

const play = commandById("play")!;
const loop = commandById("loop")!;

describe("keys of commands", () => {
  it("are the usual ones until others are chosen", () => {
    expect(commandOfKeys("Space", {})).toBe(play);
    expect(commandOfKeys("F9", {})).toBeUndefined();
    const change = withKey({}, play, "F9");
    if (!change.ok) throw new Error(change.refusal);
    expect(commandOfKeys("F9", change.choices)).toBe(play);
    expect(commandOfKeys("Space", change.choices)).toBeUndefined();
    expect(keysOfCommand(loop, change.choices)).toEqual(["L"]);
  });

  it("are usual again when the usual key is chosen", () => {
    expect(withKey({ play: ["F9"] }, play, "Space")).toEqual({ ok: true, choices: {} });
  });

  it("are not taken from another command, nor from the sheet of keys", () => {
    expect(withKey({}, play, "L")).toMatchObject({ ok: false, refusal: expect.stringContaining(loop.name) });
    expect(withKey({}, play, "?")).toMatchObject({ ok: false });
    // Once the other has another key, its old one is free.
    expect(withKey({ loop: ["F8"] }, play, "L")).toEqual({ ok: true, choices: { loop: ["F8"], play: ["L"] } });
  });
});

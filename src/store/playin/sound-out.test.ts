import { afterEach, describe, expect, it, vi } from "vitest";
import { SoundOut } from "./sound-out.ts";

afterEach(() => vi.unstubAllGlobals());

const choiceOf = (kept: object | null) => {
  vi.stubGlobal("localStorage", { getItem: () => kept && JSON.stringify(kept), setItem: () => {} });
  return new SoundOut(() => {}).state.getState();
};

describe("where it sounds", () => {
  it("is as an earlier version has kept it, which knew of neither clock nor speakers", () => {
    expect(choiceOf({ mode: "both", deviceName: "Module" })).toMatchObject({
      mode: "both",
      deviceName: "Module",
      sendsClock: false,
    });
  });

  it("is the kit where nothing is kept, or nothing that makes sense", () => {
    vi.spyOn(console, "warn").mockImplementation(() => {});
    for (const kept of [null, { mode: "somewhere" }, { mode: "kit", deviceName: "", sendsClock: "yes" }])
      expect(choiceOf(kept)).toMatchObject({ mode: "kit", deviceName: "", sendsClock: false });
  });
});

import { afterEach, describe, expect, it, vi } from "vitest";
import { type LiveStrike, listenToMidi, strikeReader } from "./midi-input.ts";

afterEach(() => vi.unstubAllGlobals());

describe("reading what a device sends", () => {
  it("gives strikes with the pedal of their channel, and nothing else", () => {
    const strikes: LiveStrike[] = [];
    const read = strikeReader((strike) => strikes.push(strike));
    for (const data of [
      [0xb9, 4, 30],
      [0x99, 42, 100],
      [0x99, 42, 0],
      [0x89, 42, 64],
      [0x90, 60, 20],
      [0xb9, 7, 99],
      [],
    ]) {
      read(Uint8Array.from(data));
    }
    expect(strikes).toEqual([
      { note: 42, channel: 9, pedal: 30, velocity: 100 },
      { note: 60, channel: 0, pedal: null, velocity: 20 },
    ]);
  });
});

describe("listening to devices", () => {
  const input = { name: "Pads", onmidimessage: null as null | ((event: { data: Uint8Array }) => void) };

  it("hears those that are there and those that come, until it stops", async () => {
    const inputs = new Map([["1", input]]);
    const access = { inputs, onstatechange: null as null | (() => void) };
    vi.stubGlobal("navigator", { requestMIDIAccess: async () => access });
    const heard: number[] = [];
    const names: (readonly string[])[] = [];
    const listening = await listenToMidi(
      ({ note }) => heard.push(note),
      (devices) => names.push(devices),
    );
    input.onmidimessage?.({ data: Uint8Array.of(0x99, 36, 80) });
    const later = { ...input, name: "Kit" };
    inputs.set("2", later);
    access.onstatechange?.();
    later.onmidimessage?.({ data: Uint8Array.of(0x99, 38, 80) });
    expect(heard).toEqual([36, 38]);
    expect(names).toEqual([["Pads"], ["Pads", "Kit"]]);
    expect(listening.problem).toBeNull();
    listening.stop();
    expect([input.onmidimessage, later.onmidimessage, access.onstatechange]).toEqual([null, null, null]);
  });

  it("says why when it cannot", async () => {
    vi.stubGlobal("navigator", {});
    expect((await listenToMidi(vi.fn(), vi.fn())).problem).toBe("This browser cannot hear MIDI devices.");
    vi.stubGlobal("navigator", { requestMIDIAccess: () => Promise.reject(new DOMException("no", "SecurityError")) });
    expect((await listenToMidi(vi.fn(), vi.fn())).problem).toContain("was not allowed");
  });
});

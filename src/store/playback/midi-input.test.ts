import { afterEach, describe, expect, it, vi } from "vitest";
import { type LiveStrike, listenToMidi, messageReader } from "./midi-input.ts";

afterEach(() => vi.unstubAllGlobals());

describe("reading what a device sends", () => {
  it("gives strikes with the pedal of their channel and their own time, and what is done to a pad while it is held", () => {
    const strikes: LiveStrike[] = [];
    const others: string[] = [];
    const read = messageReader(
      {
        onStrike: (strike, eventMs, device) => {
          strikes.push(strike);
          expect([eventMs, device]).toEqual([7, "Pads"]);
        },
        onRelease: (note) => others.push(`release ${note}`),
        onPressure: (note, value) => others.push(`press ${note} ${value}`),
        onControl: (controller) => others.push(`control ${controller}`),
      },
      "Pads",
    );
    for (const data of [
      [0xb9, 4, 30],
      [0x99, 42, 100],
      [0x99, 42, 0],
      [0x89, 42, 64],
      [0x90, 60, 20],
      [0xa9, 42, 31],
      [0xb9, 64, 99],
      [0xb9, 64, 100],
      [],
    ]) {
      read(Uint8Array.from(data), 7);
    }
    expect(strikes).toEqual([
      { note: 42, channel: 9, pedal: 30, velocity: 100 },
      { note: 60, channel: 0, pedal: null, velocity: 20 },
    ]);
    expect(others).toEqual(["release 42", "release 42", "press 42 31", "control 64"]);
  });
});

describe("listening to devices", () => {
  const input = {
    id: "1",
    name: "Pads",
    state: "connected",
    onmidimessage: null as null | ((event: { data: Uint8Array }) => void),
  };

  it("hears those that are there and those that come, until it stops", async () => {
    const inputs = new Map([["1", input]]);
    const access = { inputs, onstatechange: null as null | (() => void) };
    vi.stubGlobal("navigator", { requestMIDIAccess: async () => access });
    const heard: number[] = [];
    const names: (readonly string[])[] = [];
    const listening = await listenToMidi({ onStrike: ({ note }) => heard.push(note) }, (devices) =>
      names.push(devices),
    );
    input.onmidimessage?.({ data: Uint8Array.of(0x99, 36, 80) });
    const later = { ...input, id: "2", name: "Kit" };
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
    expect((await listenToMidi({ onStrike: vi.fn() }, vi.fn())).problem).toBe("This browser cannot hear MIDI devices.");
    vi.stubGlobal("navigator", { requestMIDIAccess: () => Promise.reject(new DOMException("no", "SecurityError")) });
    expect((await listenToMidi({ onStrike: vi.fn() }, vi.fn())).problem).toContain("was not allowed");
  });
});

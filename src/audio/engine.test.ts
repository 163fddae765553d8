import { beforeEach, describe, expect, it, vi } from "vitest";
import { Engine, LAYERS, ROUND_ROBINS, SoundBank, type SoundId, toBuffer } from "./index.ts";
import { FakeAudio } from "./testing/fake-audio.ts";

let audio: FakeAudio;
let engine: Engine;
let bank: SoundBank;

/** Sounds whose lengths tell layer and take apart. */
const make = async () =>
  Array.from({ length: LAYERS * ROUND_ROBINS }, (_, index) => toBuffer(new Float32Array(100 + index)));

beforeEach(async () => {
  audio = new FakeAudio();
  for (const [name, fake] of Object.entries(audio.classes())) vi.stubGlobal(name, fake);
  bank = new SoundBank();
  await bank.prepare(["hat/open", "hat/closed", "hat/foot", "snare/centre"], make);
  engine = new Engine(new AudioContext(), bank);
});

const play = (sound: SoundId, timeS: number, velocity = 90) => {
  const [voiceId = "", articulationId = ""] = sound.split("/");
  engine.play({ key: "", ms: 0, voiceId, articulationId, velocity }, timeS);
};

describe("the engine", () => {
  it("starts a sound at its moment of the audio clock", () => {
    play("snare/centre", 1.2345);
    expect(audio.played.map(({ startS }) => startS)).toEqual([1.2345]);
  });

  it("plays louder and from a harder layer for a higher velocity, takes in turn", () => {
    for (const velocity of [20, 60, 90, 120]) play("snare/centre", 0, velocity);
    const gains = audio.played.map(({ gain }) => gain);
    expect(gains).toEqual([...gains].sort((a, b) => a - b));
    expect(audio.played.map(({ buffer }) => Math.floor((buffer.length - 100) / ROUND_ROBINS))).toEqual([0, 1, 2, 3]);
    expect(audio.played.map(({ buffer }) => (buffer.length - 100) % ROUND_ROBINS)).toEqual([0, 1, 2, 3]);
  });

  it("chokes open hats by closed and foot ones, at their moment, and nothing else", () => {
    play("hat/open", 1);
    play("snare/centre", 1.1);
    play("hat/closed", 1.25);
    play("hat/open", 2);
    play("hat/foot", 2.5);
    expect(audio.played.map(({ chokedS }) => chokedS)).toEqual(
      [2.5, null, null, 2.5, null].map((value, index) => (index === 0 ? expect.any(Number) : value)),
    );
    expect(audio.played[3]!.chokedS).toBe(2.5);
  });

  it("does not choke an open hat that comes later", () => {
    play("hat/open", 3);
    play("hat/closed", 2.9);
    expect(audio.played[0]!.chokedS).toBeNull();
  });

  it("is silent for a sound that is still being made, and has its click from the start", () => {
    play("ride/bow", 1);
    expect(audio.played).toEqual([]);
    play("click/bar", 1);
    expect(audio.played).toHaveLength(1);
  });

  it("takes back everything when silenced", () => {
    play("snare/centre", 5);
    play("hat/open", 6);
    engine.silence();
    expect(audio.played.every(({ isStopped }) => isStopped)).toBe(true);
  });

  it("asks for each sound once", async () => {
    const asked = vi.fn(make);
    await bank.prepare(["snare/centre", "kick/main", "kick/main"], asked);
    expect(asked.mock.calls).toEqual([["kick/main"]]);
  });
});

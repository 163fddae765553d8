import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { readMidiFile, writeMidiFile } from "../core/smf/index.ts";
import { NIGHT_FERRY } from "./night-ferry.ts";
import { perform } from "./perform.ts";
import { createRandom } from "./random.ts";
import { hitsOfPart, type WrittenPart } from "./written-part.ts";

const part = (bars: WrittenPart["bars"]): WrittenPart => ({
  title: "Test",
  bpm: 120,
  numerator: 4,
  denominator: 4,
  bars,
});

describe("written parts", () => {
  it("are read as even steps over the bar", () => {
    const hits = hitsOfPart(part([{ kick: "s---", "hat.open": "--a-", snare: ["-g------", "--f"] }]), 480);
    expect(hits.map(({ tick, note, role, graceNotes }) => [tick, note, role, graceNotes])).toEqual([
      [0, 36, "stroke", 0],
      [240, 38, "ghost", 0],
      [960, 46, "accent", 0],
      [1280, 38, "accent", 1],
    ]);
  });

  it("refuse rows and signs that mean nothing", () => {
    expect(() => hitsOfPart(part([{ triangel: "s" }]), 480)).toThrow("triangel");
    expect(() => hitsOfPart(part([{ kick: "s?" }]), 480)).toThrow("?");
  });
});

describe("the stand-in drummer", () => {
  const [take] = NIGHT_FERRY;
  if (!take) throw new Error("There is no demo.");

  it("plays the same from the same seed, and differently from another", () => {
    const play = (seed: number) => writeMidiFile(perform(take.part, take.habits, createRandom(seed)).file);
    expect(play(1)).toEqual(play(1));
    expect(play(1)).not.toEqual(play(2));
  });

  it("plays every written hit, and says of each note what it is", () => {
    const { file, truth } = perform(take.part, take.habits, createRandom(9));
    const written = hitsOfPart(take.part, take.habits.ppq);
    expect(truth.filter(({ kind }) => kind === "hit")).toHaveLength(written.length);
    expect(truth.some(({ kind }) => kind === "grace")).toBe(true);
    expect(truth.some(({ kind }) => kind === "double")).toBe(true);
    for (const { id } of truth) {
      const message = file.tracks[1]!.messages[Number(id.split(":")[1])];
      expect(message).toMatchObject({ kind: "channel", status: 0x99 });
    }
  });

  it("has the habits it was given: bias and spread", () => {
    const steady = part(Array.from({ length: 64 }, () => ({ hat: "ssssssss" })));
    const habits = { ...take.habits, wanderMs: 0, doubleTriggerShare: 0, voices: { hat: { biasMs: 12, spreadMs: 8 } } };
    const { file, truth } = perform(steady, habits, createRandom(4));
    const msPerTick = 500 / habits.ppq;
    const drifts = truth
      .slice(8)
      .map(({ id, tick }) => (file.tracks[1]!.messages[Number(id.split(":")[1])]!.tick - tick) * msPerTick);
    const mean = drifts.reduce((sum, drift) => sum + drift, 0) / drifts.length;
    const spread = Math.sqrt(drifts.reduce((sum, drift) => sum + (drift - mean) ** 2, 0) / drifts.length);
    expect(mean).toBeGreaterThan(10.5);
    expect(mean).toBeLessThan(13.5);
    expect(spread).toBeGreaterThan(7);
    expect(spread).toBeLessThan(9);
  });

  it("played the recordings in demo/", () => {
    for (const { slug, part: written, habits, seed, otherTracks, wiring } of NIGHT_FERRY) {
      const bytes = writeMidiFile(perform(written, habits, createRandom(seed), otherTracks, wiring).file);
      const kept = new Uint8Array(readFileSync(`demo/${slug}.mid`));
      expect(Buffer.compare(bytes, kept)).toBe(0);
      expect(readMidiFile(kept).notices).toEqual([]);
    }
  });
});

import { describe, expect, it } from "vitest";
import { findLatency } from "./find-latency.ts";
import type { FoundGrid } from "./index.ts";

const voice = (meanDriftMs: number, hitCount = 100, isPoor = false, spreadMs = 6) => ({
  hitCount,
  found: { meanDriftMs, isPoor, spreadMs } as FoundGrid,
});
const exact = (meanDriftMs: number): ReturnType<typeof voice> => {
  const { found, ...more } = voice(meanDriftMs);
  return { ...more, found: { ...found, isExact: true } };
};
const loose = (meanDriftMs: number) => voice(meanDriftMs, 100, false, 18);

describe("latency", () => {
  it("is what all voices are off by together, those of a few hits counting less", () => {
    expect(findLatency([voice(14.1), voice(12), voice(16), voice(13.2)])?.ms).toBe(14);
    // Forty hits tell a limb's habit as well as four hundred; two say little.
    expect(findLatency([voice(60, 400), voice(63, 400), voice(72, 40)])?.ms).toBe(65);
    expect(findLatency([voice(60, 400), voice(63, 400), voice(72, 2)])?.ms).toBe(63);
    expect(findLatency([voice(-9), voice(-10), voice(-8)])?.ms).toBe(-9);
  });

  it("is not what one voice does, nor what is too little to be one", () => {
    expect(findLatency([voice(20), voice(1), voice(-2), voice(0)])).toBeNull();
    expect(findLatency([voice(3), voice(4), voice(3)])).toBeNull();
    expect(findLatency([voice(20), voice(8), voice(-4)])).toBeNull();
  });

  it("is not what a few limbs of a loose hand agree on, and is what all its limbs are far off by", () => {
    expect(findLatency([loose(11), loose(12), loose(11)])).toBeNull();
    expect(findLatency([loose(41), loose(35), loose(44)])?.ms).toBe(40);
    expect(findLatency([voice(11), voice(12), voice(11)])?.ms).toBe(11.5);
  });

  it("asks for enough voices that can be trusted", () => {
    expect(findLatency([])).toBeNull();
    expect(findLatency([voice(14), voice(14)])).toBeNull();
    // Nobody is so late by habit.
    expect(findLatency([voice(70), voice(66)])?.ms).toBe(68);
    expect(findLatency([voice(14), voice(14), voice(14, 100, true), { hitCount: 9, found: null }])).toBeNull();
    // Of a take to no click, a few cymbals are on some grid or other.
    const toNoClick = [voice(40, 200, true), voice(-31, 150, true), voice(56, 60, true)];
    expect(findLatency([...toNoClick, voice(56, 8), voice(54, 40), voice(56, 90)])).toBeNull();
    expect(findLatency([voice(-31, 150, true), voice(56, 80), voice(54, 400), voice(56, 90)])?.ms).toBe(55.5);
  });

  it("is constant where every hit is off by the same to the tick, which one voice is enough to tell", () => {
    expect(findLatency([exact(-17.2), exact(-16.6), exact(-17)])).toEqual({ ms: -17, isConstant: true });
    expect(findLatency([exact(-17)])).toEqual({ ms: -17, isConstant: true });
    expect(findLatency([exact(-17), exact(-17), voice(-16)])).toEqual({ ms: -16.5, isConstant: false });
    // One that is pushed by itself is its own way of playing, and too little is none.
    expect(findLatency([exact(-17), exact(0), exact(0)])).toBeNull();
    expect(findLatency([exact(4), exact(4), exact(4)])).toBeNull();
  });
});

import { describe, expect, it } from "vitest";
import { findLatency } from "./find-latency.ts";
import type { FoundGrid } from "./index.ts";

const voice = (meanDriftMs: number, hitCount = 100, isPoor = false) => ({
  hitCount,
  found: { meanDriftMs, isPoor } as FoundGrid,
});

describe("latency", () => {
  it("is what nearly all voices lag alike", () => {
    expect(findLatency([voice(14.1), voice(12), voice(16), voice(13.2)])).toBe(13);
    expect(findLatency([voice(-9), voice(-10), voice(-8)])).toBe(-9);
  });

  it("is not what one voice does, nor what is too little to be one", () => {
    expect(findLatency([voice(20), voice(1), voice(-2), voice(0)])).toBeNull();
    expect(findLatency([voice(3), voice(4), voice(3)])).toBeNull();
    expect(findLatency([voice(20), voice(8), voice(-4)])).toBeNull();
  });

  it("asks for enough voices that can be trusted", () => {
    expect(findLatency([])).toBeNull();
    expect(findLatency([voice(14), voice(14)])).toBeNull();
    expect(findLatency([voice(14), voice(14), voice(14, 100, true), { hitCount: 9, found: null }])).toBeNull();
  });
});

import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { inAPause } from "./in-a-pause.ts";

describe("what is done in a pause of the hands", () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it("waits for them to rest, is done once, and at the latest after a while", () => {
    const hands = new EventTarget();
    const task = vi.fn();
    inAPause(task, hands);
    vi.advanceTimersByTime(2000);
    hands.dispatchEvent(new Event("keydown"));
    vi.advanceTimersByTime(2900);
    expect(task).not.toHaveBeenCalled();
    vi.advanceTimersByTime(200);
    expect(task).toHaveBeenCalledTimes(1);
    hands.dispatchEvent(new Event("pointerdown"));
    vi.advanceTimersByTime(60_000);
    expect(task).toHaveBeenCalledTimes(1);
    inAPause(task, hands);
    for (let second = 0; second < 16; second++) {
      hands.dispatchEvent(new Event("wheel"));
      vi.advanceTimersByTime(1000);
    }
    expect(task).toHaveBeenCalledTimes(2);
  });

  it("is never done once it is given up", () => {
    const hands = new EventTarget();
    const task = vi.fn();
    inAPause(task, hands)();
    hands.dispatchEvent(new Event("keydown"));
    vi.advanceTimersByTime(60_000);
    expect(task).not.toHaveBeenCalled();
  });
});

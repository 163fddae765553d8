import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { laneOf } from "../../core/testing/patterns.ts";
import { TreatmentDrag, type TreatmentEdit } from "./treatment-drag.ts";

const editOf = (strengthPercent: number): TreatmentEdit => ({
  kind: "setTreatments",
  changes: [{ voiceId: "snare", from: laneOf("snare").treatment, to: laneOf("snare", { strengthPercent }).treatment }],
});

describe("a setting that is dragged", () => {
  beforeEach(() => {
    vi.useFakeTimers();
  });
  afterEach(() => {
    vi.useRealTimers();
  });

  const start = () => {
    const settled: TreatmentEdit[] = [];
    return { settled, drag: new TreatmentDrag((edit) => settled.push(edit)) };
  };

  it("treats the lanes at once if nobody else treats them", () => {
    const { settled, drag } = start();
    const edits = [editOf(10), editOf(20), editOf(30)];
    for (const edit of edits) drag.show(edit);
    expect(settled).toEqual(edits);
  });

  it("goes to those who treat for themselves each time, and to the lanes at first and then now and then", () => {
    const { settled, drag } = start();
    const heard: unknown[] = [];
    const stop = drag.listen((changes) => heard.push(changes));
    const edits = Array.from({ length: 30 }, (_, index) => editOf(index));
    for (const edit of edits) {
      drag.show(edit);
      vi.advanceTimersByTime(20);
    }
    expect(heard).toEqual(edits.map(({ changes }) => changes));
    expect(settled).toEqual([edits[0], edits[20]]);
    vi.advanceTimersByTime(500);
    expect(settled.at(-1)).toBe(edits.at(-1));
    drag.end();
    expect(heard.at(-1)).toBeNull();
    stop();
    drag.show(editOf(50));
    expect(heard.at(-1)).toBeNull();
  });

  it("is over when it is done or given up: nothing of it comes late, and the next one begins at once", () => {
    const { settled, drag } = start();
    drag.listen(() => {});
    drag.show(editOf(1));
    drag.show(editOf(2));
    drag.end();
    vi.advanceTimersByTime(1000);
    expect(settled).toHaveLength(1);
    drag.show(editOf(3));
    expect(settled).toHaveLength(2);
    drag.end();
    drag.end();
  });
});

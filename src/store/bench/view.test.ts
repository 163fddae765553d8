import { beforeEach, describe, expect, it } from "vitest";
import { createStore } from "zustand/vanilla";
import { hitAt, patternOf } from "../../core/testing/patterns.ts";
import { deriveMaps } from "./lane-view.ts";
import { type ViewState, viewActions, viewAtFirst } from "./view.ts";

const pattern = patternOf(
  [hitAt(4 * 1920 + 60, { id: "a" }), hitAt(9600, { id: "b", voiceId: "kick", articulationId: "main", note: 36 })],
  { lengthTicks: 16 * 1920 },
);
const shown = { pattern, maps: deriveMaps(pattern, null) };

let state: () => ViewState;
let view: ReturnType<typeof viewActions>;
beforeEach(() => {
  const store = createStore(() => ({ ...viewAtFirst(pattern), ...shown }));
  state = store.getState;
  view = viewActions(store.getState, (change) => store.setState(change));
});

describe("the view", () => {
  it("opens a sheet in place of another, which closing it late does not close", () => {
    view.showSheet("tempo");
    view.showSheet("kit");
    view.showSheet("tempo", false);
    expect(state().sheet).toBe("kit");
    view.showSheet("kit", false);
    expect(state().sheet).toBeNull();
  });

  it("shows at first where the playing begins, and keeps its place when the window gets another size", () => {
    expect(view.setWidth(800)).toBe(4 * 1920);
    const { startTick, ticksPerPx } = state().viewport;
    expect(startTick).toBeLessThanOrEqual(4 * 1920);
    expect(ticksPerPx * 800).toBeGreaterThanOrEqual(4 * 1920);
    expect(view.setWidth(600)).toBeNull();
    expect(state().viewport).toEqual({ startTick, ticksPerPx, widthPx: 600 });
  });

  it("leaves hits of other lanes out of reach behind one in front", () => {
    view.pick(new Set(["a", "b"]));
    view.setFront("kick");
    expect([...state().picked]).toEqual(["b"]);
    view.pick(new Set(["a"]));
    expect([...state().picked]).toEqual([]);
    view.setFront(null);
    view.pick(new Set(["a"]));
    expect([...state().picked]).toEqual(["a"]);
  });

  it("changes one thing about what is written next, and leaves the rest", () => {
    const { burst, fill } = state();
    view.wish("burst", { count: 5 });
    expect(state().burst).toEqual({ ...burst, count: 5 });
    expect(state().fill).toBe(fill);
  });

  it("gives a lane a size of its own, and the size of the others again", () => {
    view.setLaneSize("snare", { closedPx: 90 });
    view.setLaneZoom(2);
    expect(state().laneSizes.get("snare")).toEqual({ closedPx: 90 });
    view.setLaneSize("snare", null);
    expect(state()).toMatchObject({ laneZoom: 2, laneSizes: new Map() });
  });
});

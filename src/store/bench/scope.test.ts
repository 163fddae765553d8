import { describe, expect, it, vi } from "vitest";
import { changeTiming } from "../../core/commands/index.ts";
import { arranging, type Pattern } from "../../core/document/index.ts";
import { cutInto, cutsEvery, NO_ARRANGEMENT } from "../../core/song/index.ts";
import { hitAt, laneOf, patternOf } from "../../core/testing/patterns.ts";
import { createBenchStore } from "./bench-store.ts";

const BAR = 1920;

function openACutTake() {
  vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => {}, removeItem: () => {} });
  vi.stubGlobal("fetch", async () => Response.json({ ok: true, value: { revision: 1 } }));
  const hits = [0, 1, 2, 3].map((bar) => hitAt(bar * BAR + 30));
  const pattern = patternOf(hits, { lengthTicks: 4 * BAR, lanes: [laneOf("snare")] });
  let turn = 0;
  const store = createBenchStore(
    { id: "p", name: "Take", book: "", fileName: "", notices: [], revision: 0, isPlanned: true, pattern },
    () => `id ${turn++}`,
  );
  store.setViewport({ startTick: 0, ticksPerPx: 10, widthPx: 768 });
  const cut = cutInto(NO_ARRANGEMENT, cutsEvery(4, 2), () => `id ${turn++}`);
  store.commit("Cut", { kind: "arrange", ...arranging(NO_ARRANGEMENT, cut) });
  const pull = (strengthPercent: number) =>
    store.commit(
      "Pull",
      changeTiming(store.getState().pattern, new Set(["snare"]), (timing) => ({
        ...timing,
        isOn: true,
        strengthPercent,
      })),
    );
  const strength = ({ lanes }: Pattern) => lanes[0]!.treatment.timing.strengthPercent;
  const ticks = () => [...store.getState().lanes[0]!.cleaned.ticks];
  return { store, pull, strength, ticks, patternIds: cut.patterns.map(({ id }) => id) };
}

describe("a take that is looked at through a pattern", () => {
  it("shows and loops its bars, and leaves the rest as the take has it", () => {
    const { store, pull, ticks, patternIds } = openACutTake();
    store.setScope(patternIds[1]!);
    expect(store.getState()).toMatchObject({ scopeId: patternIds[1], loop: { startTick: 2 * BAR, endTick: 4 * BAR } });
    pull(100);
    expect(ticks()).toEqual([30, BAR + 30, 2 * BAR, 3 * BAR]);
    expect(store.getState().history.done.at(-1)!.label).toBe("Pull, in Bars 3 to 4");
    store.setScope(null);
    expect(ticks()).toEqual([30, BAR + 30, 2 * BAR + 30, 3 * BAR + 30]);
    store.setScope(patternIds[1]!);
    expect(ticks().slice(2)).toEqual([2 * BAR, 3 * BAR]);
    store.undo();
    expect(ticks().slice(2)).toEqual([2 * BAR + 30, 3 * BAR + 30]);
  });

  it("is looked at as it is once the pattern is gone", () => {
    const { store, strength, pull, patternIds } = openACutTake();
    store.setScope(patternIds[0]!);
    pull(55);
    expect(strength(store.getState().pattern)).toBe(55);
    store.undo();
    store.undo();
    expect(store.getState().scopeId).toBeNull();
    expect(store.getState().pattern.arrangement).toBeUndefined();
    store.setScope("none");
    expect(store.getState().scopeId).toBeNull();
  });

  it("turns from one set of settings to the other and back without a trace in the history", () => {
    const { store, strength, pull } = openACutTake();
    pull(60);
    expect(store.turnSide()).toContain("kept as A");
    pull(95);
    const steps = () => store.getState().history.done.length;
    const before = steps();
    expect(store.turnSide()).toBe("Settings A.");
    expect(strength(store.getState().pattern)).toBe(60);
    expect(steps()).toBe(before + 1);
    expect(store.turnSide()).toBe("Settings B.");
    expect(strength(store.getState().pattern)).toBe(95);
    expect(steps()).toBe(before);
  });
});

import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { CHORES } from "../../../core/chore/index.ts";
import type { Sift } from "../../../core/sift/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import type { SiftDraft } from "../../../store/bench/sift-draft.ts";
import { openABench } from "../testing/a-bench.ts";
import { closeSift, doChore, holdByHand, ruleFromPicked, runOf, showRun, stepsOf, toggleSift } from "./sift-actions.ts";

let bench: Bench;
const state = () => bench.store.getState();
const draft = (change: Partial<SiftDraft>) => bench.store.setSiftDraft({ ...state().siftDraft, ...change });
const velocityShown = (id: string) => {
  const lane = state().lanes.find(({ hits }) => hits.some((hit) => hit.id === id))!;
  return lane.cleaned.velocities[lane.hits.findIndex((hit) => hit.id === id)];
};
const savedVelocity = (id: string) => state().pattern.hits.find((hit) => hit.id === id)!.pinnedVelocity;
const show = () => showRun(bench, runOf(state(), state().siftDraft));
const snares: Sift = { clauses: [{ anyOf: [{ kind: "voices", voiceIds: ["snare"] }] }] };

beforeEach(() => {
  bench = openABench();
});
afterEach(() => bench.store.close());

describe("a rule on the Bench", () => {
  it("picks what it lets through while it is built, everywhere, in the loop, or among what was picked", () => {
    bench.store.pick(new Set(["a", "k"]));
    toggleSift(bench);
    draft({ sift: snares, within: "all" });
    show();
    expect(state().picked).toEqual(new Set(["a", "b", "c"]));
    draft({ within: "picked" });
    show();
    expect(state().picked).toEqual(new Set(["a"]));
    bench.store.setLoop({ startTick: 960, endTick: 1920 });
    draft({ within: "loop" });
    show();
    expect(state().picked).toEqual(new Set(["b"]));
    toggleSift(bench);
    expect(state().isSifting).toBe(false);
  });

  it("shows what would be done without doing it, and nothing of it once it is closed", () => {
    toggleSift(bench);
    draft({ sift: snares, acts: [{ kind: "set", velocity: 33 }] });
    show();
    expect([velocityShown("a"), savedVelocity("a")]).toEqual([33, null]);
    expect(runOf(state(), state().siftDraft).changedIds.size).toBe(3);
    closeSift(bench.store);
    expect(velocityShown("a")).toBe(60);
    expect(state().history.done).toHaveLength(0);
  });

  it("is done as one step with a name, and undone whole", async () => {
    toggleSift(bench);
    const [first, ...more] = CHORES.find(({ id }) => id === "downs-first")!.steps;
    draft({ sift: first!.sift, acts: first!.acts, more, name: "Kick first" });
    expect(stepsOf(state().siftDraft)).toHaveLength(2);
    expect(await doChore(bench)).toBe("Kick first: 1 hit changed, of 1 hit selected.");
    expect(savedVelocity("k")).toBe(98);
    expect(state().history.done.map(({ label }) => label)).toEqual(["Kick first"]);
    // What it does is done, and is not shown as if it were to be done again; the rule stays as it was chosen.
    expect(state().siftDraft).toMatchObject({ name: "Kick first", isApplied: true });
    show();
    expect([velocityShown("k"), state().isPreviewing]).toEqual([98, false]);
    bench.store.undo();
    expect(savedVelocity("k")).toBeNull();
  });

  it("is done again on the same hits, though they do not fit the rule any more, until it is asked again", async () => {
    toggleSift(bench);
    const soft: Sift = { clauses: [{ anyOf: [{ kind: "velocity", from: 1, to: 60 }] }, ...snares.clauses] };
    draft({ sift: soft, acts: [{ kind: "add", velocity: 20 }] });
    await doChore(bench);
    expect(savedVelocity("a")).toBe(80);
    await doChore(bench);
    expect(savedVelocity("a")).toBe(100);
    expect(state().picked).toEqual(new Set(["a"]));
    draft({ held: null });
    show();
    expect(state().picked).toEqual(new Set());
  });

  it("leaves a selection that a hand has changed, and works on that", async () => {
    toggleSift(bench);
    draft({ sift: snares, acts: [{ kind: "set", velocity: 33 }] });
    show();
    bench.store.pick(new Set(["a", "k"]));
    holdByHand(bench);
    show();
    expect(state().picked).toEqual(new Set(["a", "k"]));
    await doChore(bench);
    expect([savedVelocity("a"), savedVelocity("b"), savedVelocity("k")]).toEqual([33, null, 33]);
  });

  it("begins with what is selected", () => {
    bench.store.pick(new Set(["a", "k"]));
    toggleSift(bench);
    show();
    expect(state().siftDraft.within).toBe("picked");
    expect(state().picked).toEqual(new Set(["a", "k"]));
  });

  it("changes nothing if it picks nothing, and says so", async () => {
    toggleSift(bench);
    draft({ sift: { clauses: [{ anyOf: [{ kind: "bars", from: 90, to: 99 }] }] }, acts: [{ kind: "remove" }] });
    expect(await doChore(bench)).toBe("The rule selects no hit, so nothing was changed.");
    expect(state().history.done).toHaveLength(0);
  });

  it("is found for what is picked, where there is one", () => {
    expect(ruleFromPicked(bench)).toMatch(/^Select some hits first/);
    bench.store.pick(new Set(["h1", "h2"]));
    expect(ruleFromPicked(bench)).toBeNull();
    expect(state().siftDraft.sift).toEqual({ clauses: [{ anyOf: [{ kind: "voices", voiceIds: ["hat"] }] }] });
    expect(state().isSifting).toBe(true);
    bench.store.pick(new Set(["k", "h1", "c"]));
    expect(ruleFromPicked(bench)).toMatch(/^No plain rule selects exactly these 3 hits/);
  });
});

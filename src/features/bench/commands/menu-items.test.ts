import { beforeEach, describe, expect, it } from "vitest";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { boxesOf } from "../lanes/lane-layout.ts";
import { openABench } from "../testing/a-bench.ts";
import { menuAt, type PointMenu } from "./menu-items.ts";

let bench: Bench;
beforeEach(() => {
  bench = openABench();
});

const state = () => bench.store.getState();
const inLane = (voiceId: string, x: number) => {
  const box = boxesOf(state()).find(({ voice }) => voice.id === voiceId)!;
  return { x, y: box.base - 5 };
};
const names = (menu: PointMenu | null) => menu?.groups.flat().map(({ id }) => id) ?? [];
const choose = (menu: PointMenu | null, id: string) =>
  menu?.groups
    .flat()
    .find((item) => item.id === id)
    ?.run(bench);

describe("the menu at the pointer", () => {
  it("is about the hit under it, which is picked", () => {
    const menu = menuAt(bench, inLane("snare", 48));
    expect(state().picked).toEqual(new Set(["a"]));
    expect(menu?.title).toBe("1 hit selected");
    expect(names(menu)).toContain("pin");
    // One hit cannot be levelled or glued, and nothing is pinned yet.
    for (const id of ["level", "glue", "unpin"]) expect(names(menu)).not.toContain(id);
  });

  it("offers what fits several hits, and what they are", () => {
    bench.store.pick(new Set(["a", "b"]));
    choose(menuAt(bench, null), "pin");
    choose(menuAt(bench, null), "muteHits");
    const menu = menuAt(bench, inLane("snare", 48));
    expect(names(menu)).toEqual(expect.arrayContaining(["level", "glue", "unpin"]));
    expect(names(menu)).not.toContain("pin");
    expect(menu?.groups.flat().find(({ id }) => id === "muteHits")?.name).toBe("Let sound again");
  });

  it("counts hits as another role than the one they have, and goes back to their loudness", () => {
    const roleIds = () => names(menuAt(bench, null)).filter((id) => /^(as[A-Z]|byLoudness)/.test(id));
    // Of 60 and 100 the softer one is a ghost.
    bench.store.pick(new Set(["a"]));
    expect(roleIds()).toEqual(["asStrokes", "asAccents"]);
    choose(menuAt(bench, null), "asAccents");
    expect(state().pattern.hits.find(({ id }) => id === "a")?.role).toBe("accent");
    expect(roleIds()).toEqual(["asGhosts", "asStrokes", "byLoudness"]);
    choose(menuAt(bench, null), "byLoudness");
    expect(state().pattern.hits.find(({ id }) => id === "a")).not.toHaveProperty("role");
    bench.store.pick(new Set(["a", "b"]));
    expect(roleIds()).toEqual(["asGhosts", "asStrokes", "asAccents"]);
  });

  it("is about the lane and the bar where there is no hit", () => {
    const menu = menuAt(bench, inLane("kick", 300));
    expect(menu?.title).toBe("Kick");
    expect(names(menu)).not.toContain("pasteHere");
    choose(menu, "loopBar");
    expect(state().loop).toEqual({ startTick: 1920, endTick: 3840 });
    choose(menu, "drawHere");
    expect(state().pattern.hits.filter(({ voiceId }) => voiceId === "kick")).toHaveLength(2);
    choose(menu, "muteLane");
    expect(state().muted).toEqual(new Set(["kick"]));
    choose(menuAt(bench, inLane("kick", 350)), "removeLaneHits");
    expect(state().pattern.hits.filter(({ voiceId }) => voiceId === "kick")).toEqual([]);
    bench.store.undo();
    expect(state().pattern.hits.filter(({ voiceId }) => voiceId === "kick")).toHaveLength(2);
  });

  it("pastes into the bar under it once something is copied", () => {
    bench.store.pick(new Set(["a"]));
    choose(menuAt(bench, null), "copy");
    expect(names(menuAt(bench, inLane("kick", 300)))).toContain("pasteHere");
  });

  it("is none behind the lane in front, or when nothing is picked", () => {
    bench.store.setFront("snare");
    expect(menuAt(bench, inLane("kick", 300))).toBeNull();
    expect(menuAt(bench, null)).toBeNull();
  });
});

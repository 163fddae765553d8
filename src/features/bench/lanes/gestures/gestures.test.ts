import { beforeEach, describe, expect, it } from "vitest";
import { changeTiming } from "../../../../core/commands/index.ts";
import type { Bench } from "../../../../store/bench/bench-context.ts";
import { openABench } from "../../testing/a-bench.ts";
import { boxesOf, finHeightOf } from "../lane-layout.ts";
import { hitAtPoint } from "../under-pointer.ts";
import { startDriftDrag, startHitDrag } from "./drag-hits.ts";
import { startDrawing } from "./draw.ts";
import type { Gesture, GestureStage, HeldKeys } from "./gesture.ts";
import { startMarquee } from "./marquee.ts";
import { startShape } from "./shape.ts";
import { startTravel, TwoFingers } from "./travel.ts";

let bench: Bench;
let notes: string[];
let stage: GestureStage;

beforeEach(() => {
  bench = openABench();
  notes = [];
  stage = { bench, showNote: (note) => note && notes.push(note.text), showMarquee: () => {} };
});

const state = () => bench.store.getState();
const hit = (id: string) => state().pattern.hits.find((one) => one.id === id)!;
const box = (voiceId: string) => boxesOf(state()).find(({ voice }) => voice.id === voiceId)!;
/** The point at a place in a lane, as high as a velocity. */
const at = (voiceId: string, tick: number, velocity: number) => ({
  x: tick / 10,
  y: box(voiceId).base - finHeightOf(box(voiceId), velocity),
});
const held = (...keys: ("Shift" | "Alt")[]): HeldKeys => ({
  isShift: keys.includes("Shift"),
  isAlt: keys.includes("Alt"),
});
const drag = (gesture: Gesture, points: readonly { x: number; y: number }[], keys = held()) => {
  for (const point of points) gesture.move(point, keys);
  gesture.end();
};
const grab = (id: string, voiceId: string, velocity: number) => {
  const point = at(voiceId, hit(id).recordedTick!, velocity - 10);
  const grabbed = hitAtPoint(state(), point)!;
  expect(grabbed.hit.id).toBe(id);
  return { point, gesture: () => startHitDrag(stage, point, grabbed) };
};

describe("dragging hits", () => {
  it("moves them in time by the first direction, says where they land, and pins them", () => {
    bench.store.pick(new Set(["a"]));
    const { point, gesture } = grab("a", "snare", 60);
    drag(gesture(), [{ ...point, x: point.x + 20 }]);
    expect(hit("a").pinnedTick).toBe(680);
    expect(notes.at(-1)).toMatch(/^1:2/);
    expect(state().history.done).toHaveLength(1);
  });

  it("holds to the grid that the lane follows where the pointer is", () => {
    const triplets = { startTick: 480, endTick: 960, grid: { family: "triplet", denominator: 8 } } as const;
    const plan = changeTiming(state().pattern, new Set(["snare"]), (timing) => ({ ...timing, stretches: [triplets] }));
    bench.store.commit("Plan", plan);
    bench.store.pick(new Set(["a"]));
    const { point, gesture } = grab("a", "snare", 60);
    drag(gesture(), [{ ...point, x: point.x + 15 }], held("Shift"));
    expect(hit("a").pinnedTick).toBe(640);
    const start = at("snare", 810, 80);
    drag(startDrawing(stage, start, "snare"), [start]);
    expect(state().pattern.hits.some(({ pinnedTick }) => pinnedTick === 800)).toBe(true);
  });

  it("leaves copies with Alt, and the hits where they are", () => {
    bench.store.pick(new Set(["a", "b"]));
    const { point, gesture } = grab("a", "snare", 60);
    drag(gesture(), [{ ...point, x: point.x + 10 }], held("Alt"));
    expect(hit("a").pinnedTick).toBeNull();
    const copies = state().pattern.hits.filter(({ recordedTick }) => recordedTick === null);
    expect(copies.map(({ pinnedTick, pinnedVelocity }) => [pinnedTick, pinnedVelocity])).toEqual([
      [580, 60],
      [1540, 100],
    ]);
    expect(state().picked).toEqual(new Set(copies.map(({ id }) => id)));
    bench.store.undo();
    expect(state().pattern.hits).toHaveLength(6);
  });

  it("makes them louder by the same, in proportion with Shift, around their middle with Alt", () => {
    const velocities = () => ["a", "b"].map((id) => hit(id).pinnedVelocity);
    const up = (keys: HeldKeys) => {
      bench.store.pick(new Set(["a", "b"]));
      const { point, gesture } = grab("a", "snare", 60);
      // 12 up, in velocity
      drag(gesture(), [{ ...point, y: point.y - (12 / 127) * box("snare").finHeight }], keys);
      const after = velocities();
      bench.store.undo();
      return after;
    };
    expect(up(held())).toEqual([72, 112]);
    expect(up(held("Shift"))).toEqual([72, 120]);
    // The mean is 80: 12 / 64 more spread.
    expect(up(held("Alt"))).toEqual([56, 104]);
    expect(velocities()).toEqual([null, null]);
  });

  it("takes copies to another drum with Alt, and the hits themselves without", () => {
    bench.store.pick(new Set(["a"]));
    const { point, gesture } = grab("a", "snare", 60);
    const inKick = { x: point.x, y: box("kick").top + 30 };
    drag(gesture(), [{ ...point, y: point.y + 20 }, inKick], held("Alt"));
    expect(state().pattern.hits.filter(({ voiceId }) => voiceId === "kick")).toHaveLength(2);
    expect(hit("a").voiceId).toBe("snare");
    bench.store.undo();
    bench.store.pick(new Set(["a"]));
    drag(gesture(), [{ ...point, y: point.y + 20 }, inKick]);
    expect(hit("a").voiceId).toBe("kick");
  });

  it("does nothing for a tremble", () => {
    bench.store.pick(new Set(["a"]));
    const { point, gesture } = grab("a", "snare", 60);
    drag(gesture(), [{ x: point.x + 2, y: point.y + 1 }]);
    expect(state().history.done).toEqual([]);
  });

  it("moves by the rail in ms", () => {
    const { railZero, railReach } = box("snare").open!;
    const dot = { x: 48, y: railZero };
    const gesture = startDriftDrag(stage, dot, { hit: hit("a"), tick: 480 });
    // The whole reach is 40 ms; at 120 bpm a tick is 25/24 ms.
    drag(gesture, [{ ...dot, y: dot.y - railReach / 2 }]);
    expect(hit("a").pinnedTick).toBe(480 + Math.round((20 * 24) / 25));
  });
});

describe("drawing", () => {
  const added = () =>
    state()
      .pattern.hits.filter(({ recordedTick }) => recordedTick === null)
      .map(({ pinnedTick, pinnedVelocity }) => [pinnedTick, pinnedVelocity]);

  it("writes on the lane's grid, as loud as the pointer is high, and leaves what is there", () => {
    const start = at("snare", 240, 80);
    const gesture = startDrawing(stage, start, "snare");
    drag(gesture, [start, at("snare", 730, 80)]);
    // Sixteenths; the one at 480 is taken.
    expect(added()).toEqual([
      [240, 80],
      [360, 80],
      [600, 80],
      [720, 80],
    ]);
    expect(hit("a")).toBeDefined();
  });

  it("takes the place of others with Alt, in one step", () => {
    const start = at("snare", 480, 90);
    drag(startDrawing(stage, start, "snare"), [start], held("Alt"));
    expect(added()).toEqual([[480, 90]]);
    expect(hit("a")).toBeUndefined();
    bench.store.undo();
    expect(hit("a")).toBeDefined();
    expect(added()).toEqual([]);
  });

  it("follows the grid that was chosen for drawing, or none", () => {
    bench.store.setDrawGrids(new Map([["kick", { family: "quintuplet", denominator: 16 }]]));
    const line = (voiceId: string) => {
      const start = at(voiceId, 960, 64);
      drag(startDrawing(stage, start, voiceId), [start, at(voiceId, 1430, 64)]);
      return added().map(([tick]) => tick);
    };
    expect(line("kick")).toEqual([960, 1056, 1152, 1248, 1344, 1440]);
    bench.store.undo();
    bench.store.wish("drawing", { isSnapped: false });
    const free = line("kick");
    expect(free.length).toBeGreaterThan(2);
    for (const [index, tick] of free.slice(1).entries()) expect(tick! - free[index]!).toBeGreaterThanOrEqual(140);
  });
});

describe("drawing loudness across the open lane", () => {
  const loudnesses = () => ["a", "b", "c"].map((id) => hit(id).pinnedVelocity);

  it("gives each fin that is passed the height of the pointer, and no other lane", () => {
    const start = at("snare", 400, 30);
    drag(startShape(stage, start, "snare"), [at("snare", 480, 30), at("snare", 900, 90), at("snare", 1500, 90)]);
    expect(loudnesses()).toEqual([30, 90, null]);
    expect(hit("h2").pinnedVelocity).toBeNull();
    expect(state().history.done.at(-1)?.label).toBe("Draw the loudness of 2 hits of Snare");
  });

  it("lays a straight ramp with Shift", () => {
    const start = at("snare", 480, 20);
    drag(startShape(stage, start, "snare"), [at("snare", 1000, 10), at("snare", 2400, 120)], held("Shift"));
    expect(loudnesses()).toEqual([20, 70, 120]);
    expect(state().history.done.at(-1)?.label).toBe("Ramp 3 hits of Snare 20 → 120");
  });

  it("changes only what is picked, if anything of the lane is", () => {
    bench.store.pick(new Set(["b", "k"]));
    drag(startShape(stage, at("snare", 400, 50), "snare"), [at("snare", 2500, 50)]);
    expect(loudnesses()).toEqual([null, 50, null]);
  });

  it("is no step if no fin was passed", () => {
    drag(startShape(stage, at("snare", 3000, 50), "snare"), [at("snare", 3200, 50)]);
    expect(state().history.done).toEqual([]);
    expect(state().shown).toBe(state().pattern);
  });
});

describe("marquee and fingers", () => {
  it("picks what is inside, besides what was picked if that is added to", () => {
    bench.store.pick(new Set(["k"]));
    const corner = { x: 40, y: box("snare").top };
    drag(startMarquee(stage, corner, true), [{ x: 150, y: box("snare").base }]);
    expect(state().picked).toEqual(new Set(["k", "a", "b"]));
    drag(startMarquee(stage, corner, false), [{ x: 100, y: box("snare").base }]);
    expect(state().picked).toEqual(new Set(["a"]));
  });

  it("travels by one finger, unless it rested first, and picks nothing by a tap", () => {
    let nowMs = 0;
    const travel = (restMs: number, across: number) => {
      nowMs = 0;
      const start = { x: 300, y: box("snare").base - 3 };
      const frame = () => startMarquee(stage, start, false);
      const gesture = startTravel(stage, start, null, frame, () => nowMs);
      nowMs = restMs;
      if (across !== 0) gesture.move({ x: start.x + across, y: start.y - 60 }, held());
      gesture.end();
    };
    bench.store.setViewport({ startTick: 0, ticksPerPx: 5, widthPx: 768 });
    travel(50, -100);
    expect(state().viewport.startTick).toBe(500);
    bench.store.pick(new Set(["a"]));
    travel(50, 0);
    expect(state().picked.size).toBe(0);
    travel(900, -260);
    expect(state().picked).toEqual(new Set(["b"]));
  });

  it("zooms by two fingers around what is between them", () => {
    bench.store.setViewport({ startTick: 1000, ticksPerPx: 5, widthPx: 768 });
    const fingers = new TwoFingers(stage, [
      { x: 200, y: 10 },
      { x: 300, y: 10 },
    ]);
    const before = 1000 + 250 * 5;
    fingers.move([
      { x: 150, y: 10 },
      { x: 350, y: 10 },
    ]);
    const { startTick, ticksPerPx } = state().viewport;
    expect(ticksPerPx).toBe(2.5);
    expect(startTick + 250 * ticksPerPx).toBeCloseTo(before, 6);
    fingers.move([
      { x: 180, y: 10 },
      { x: 380, y: 10 },
    ]);
    expect(state().viewport.startTick).toBeCloseTo(startTick - 30 * 2.5, 6);
  });
});

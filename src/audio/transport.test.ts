import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type EventSource, type Loop, type SoundEvent, Transport } from "./index.ts";

const eventAt = (key: string, ms: number): SoundEvent => ({
  key,
  ms,
  voiceId: "kick",
  articulationId: "main",
  velocity: 100,
});

function sourceOf(events: SoundEvent[], loop: Loop | null = null, endMs = 4000) {
  const state = { events, loop, endMs };
  const source: EventSource = {
    eventsBetween: (startMs, stopMs) => state.events.filter(({ ms }) => ms >= startMs && ms < stopMs),
    loop: () => state.loop,
    endMs: () => state.endMs,
  };
  return { state, source };
}

/** Plans in steps as the player does, up to a time, and says what sounds when. */
function run(transport: Transport, fromS: number, untilS: number, stepS = 0.025, aheadS = 0.15) {
  const heard: [key: string, timeS: number][] = [];
  for (let nowS = fromS; nowS < untilS; nowS += stepS) {
    for (const { event, timeS } of transport.plan(nowS, nowS + aheadS))
      heard.push([event.key, Math.round(timeS * 1e6) / 1e6]);
  }
  return heard;
}

describe("transport", () => {
  it("puts every event at its exact time on the audio clock, once", () => {
    const { source } = sourceOf([eventAt("a", 0), eventAt("b", 333.25), eventAt("c", 1999.9)]);
    expect(run(new Transport(source, 10, 0), 9.95, 13)).toEqual([
      ["a", 10],
      ["b", 10.33325],
      ["c", 11.9999],
    ]);
  });

  it("starts in the middle", () => {
    const { source } = sourceOf([eventAt("a", 0), eventAt("b", 1000)]);
    expect(run(new Transport(source, 5, 900), 5, 7)).toEqual([["b", 5.1]]);
  });

  it("repeats a loop without a gap", () => {
    const { source } = sourceOf([eventAt("a", 0), eventAt("b", 500)], { startMs: 0, endMs: 1000 });
    expect(run(new Transport(source, 1, 0), 1, 3.4).slice(0, 5)).toEqual([
      ["a", 1],
      ["b", 1.5],
      ["a", 2],
      ["b", 2.5],
      ["a", 3],
    ]);
  });

  it("goes on without a doubled or a lost hit when the other side is heard while playing", () => {
    const { state, source } = sourceOf([eventAt("a", 100), eventAt("b", 600), eventAt("c", 1100)]);
    const transport = new Transport(source, 0, 0);
    const before = run(transport, 0, 0.5);
    // "b" was planned at 600 ms already and moves later; "c" moves from far ahead to just ahead of the clock.
    state.events = [eventAt("a", 120), eventAt("b", 640), eventAt("c", 560)];
    const after = run(transport, 0.5, 2);
    expect([...before, ...after].map(([key]) => key).sort()).toEqual(["a", "b", "c"]);
    expect(after).toEqual([["c", 0.56]]);
  });

  it("hears a change of what is ahead within the time it plans ahead", () => {
    const { state, source } = sourceOf([eventAt("a", 1000)]);
    const transport = new Transport(source, 0, 0);
    run(transport, 0, 0.5);
    state.events = [eventAt("a", 800)];
    expect(run(transport, 0.5, 1.5)).toEqual([["a", 0.8]]);
  });

  it("ends with the pattern", () => {
    const { source } = sourceOf([eventAt("a", 0)], null, 700);
    const transport = new Transport(source, 2, 0);
    run(transport, 2, 3);
    expect(transport.endTimeS).toBeCloseTo(2.7, 6);
  });

  it("knows the place that sounds, through loops", () => {
    const { source } = sourceOf([], { startMs: 200, endMs: 1000 });
    const transport = new Transport(source, 10, 200);
    expect(transport.placeAt(9)).toBe(200);
    run(transport, 10, 10.5);
    expect(transport.placeAt(10.5)).toBeCloseTo(700, 6);
    run(transport, 10.5, 11);
    expect(transport.placeAt(10.9)).toBeCloseTo(300, 6);
  });

  it("plans every event of a pass exactly once, whatever the rhythm of its calls", () => {
    const events = fc.uniqueArray(fc.integer({ min: 0, max: 3999 }), { maxLength: 60 });
    fc.assert(
      fc.property(
        events,
        fc.integer({ min: 5, max: 400 }),
        fc.integer({ min: 10, max: 500 }),
        (times, stepMs, aheadMs) => {
          const { source } = sourceOf(times.map((ms) => eventAt(String(ms), ms)));
          const heard = run(new Transport(source, 0, 0), 0, 6, stepMs / 1000, (stepMs + aheadMs) / 1000);
          expect(heard.map(([key]) => Number(key)).sort((a, b) => a - b)).toEqual([...times].sort((a, b) => a - b));
          for (const [key, timeS] of heard) expect(timeS).toBeCloseTo(Number(key) / 1000, 5);
        },
      ),
    );
  });
});

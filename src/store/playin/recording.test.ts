import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { newTake } from "../../core/file/index.ts";
import { GENERAL_MIDI } from "../../core/notemap/index.ts";
import { passesOf } from "../../core/record/index.ts";
import { type BenchStore, createBenchStore } from "../bench/bench-store.ts";
import type { Playback } from "../playback/playback.ts";
import { changePlayIn, USUAL_PLAY_IN } from "./play-in-state.ts";
import { Recording } from "./recording.ts";

let store: BenchStore;
let recording: Recording;
/** When what is heard now began, on the page's clock: sound runs by the same clock here. */
let startedMs = 0;
/** Whether it was asked to play on past the end of the take. */
let isEndless = false;

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => {}, removeItem: () => {} });
  vi.stubGlobal("fetch", async () => Response.json({ ok: true, value: { revision: 1 } }));
  // At 120 bpm a bar of 4/4 lasts two seconds, and 240 ticks are a quarter of one.
  const { pattern } = newTake({ tempoBpm: 120, numerator: 4, denominator: 4, bars: 2 }, GENERAL_MIDI);
  let count = 0;
  store = createBenchStore(
    { id: "p", name: "", book: "", fileName: "", notices: [], revision: 0, isPlanned: true, pattern },
    () => `${count++}`,
  );
  const read = () => ({ eventMs: performance.now(), audioMs: performance.now() });
  const playback = {
    prepareClock: async () => read(),
    readClocks: read,
    strike: () => {},
    passOver: () => {},
    stop: () => store.setPlaying(false),
    playFrom: async (_tick: number, begins: { lead: { lengthMs: number }; startedS?: number; isEndless: boolean }) => {
      store.setPlaying(true);
      ({ isEndless } = begins);
      startedMs = (begins.startedS === undefined ? performance.now() : begins.startedS * 1000) + begins.lead.lengthMs;
      return startedMs;
    },
  };
  recording = new Recording(store, playback as unknown as Playback);
  changePlayIn(recording.state, { ...USUAL_PLAY_IN, countInBars: 0 });
});

afterEach(() => {
  recording.close();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const run = (ms: number) => vi.advanceTimersByTimeAsync(ms);
/** Strikes a note as if it were now, and lets it go after a while. */
async function strike(note: number, heldMs = 0, velocity = 90): Promise<void> {
  recording.strike({ note, channel: 9, pedal: null, velocity }, performance.now(), "pads");
  await run(heldMs);
  recording.release(note);
}
const hits = () =>
  store.take().hits.map(({ voiceId, recordedTick, pass, isMuted = false }) => [voiceId, recordedTick, pass, isMuted]);

describe("a recording", () => {
  it("takes strokes down where the take is, pass by pass, and quantizes the lanes that they come into", async () => {
    await recording.start();
    await run(510);
    await strike(38);
    await run(4000);
    await strike(36);
    expect(recording.stop()).toBe("Recorded 2 hits in 2 passes.");
    expect(hits()).toEqual([
      ["snare", 490, 1, false],
      ["kick", 490, 2, false],
    ]);
    const snare = store.take().lanes.find(({ voiceId }) => voiceId === "snare")!;
    expect(snare.treatment.timing).toMatchObject({ isOn: true, strengthPercent: 100, grid: { denominator: 16 } });
    expect(store.getState().lanes.find(({ voiceId }) => voiceId === "snare")!.cleaned.ticks[0]).toBe(480);
  });

  it("leaves the lanes alone that somebody has set", async () => {
    changePlayIn(recording.state, { quantizes: false });
    await recording.start();
    await run(510);
    await strike(38);
    recording.stop();
    expect(store.take().lanes.every(({ treatment }) => !treatment.timing.isOn)).toBe(true);
  });

  it("is undone pass by pass, while it goes on and afterwards", async () => {
    await recording.start();
    for (let stroke = 0; stroke < 6; stroke++) {
      await run(900);
      await strike(38);
    }
    await run(300);
    expect(passesOf(store.take()).map(({ pass, hits: all }) => [pass, all.length])).toEqual([
      [1, 4],
      [2, 2],
    ]);
    expect(store.undo()).toBe("Record pass 2");
    expect(passesOf(store.take())).toHaveLength(1);
    recording.stop();
    expect(store.undo()).toBe("Record pass 1");
    expect(hits()).toEqual([]);
    store.redo();
    expect(passesOf(store.take()).map(({ hits: all }) => all.length)).toEqual([4]);
  });

  it("begins after a count-in and a pre-roll, and takes nothing of them down", async () => {
    store.setLoop({ startTick: 1920, endTick: 3840 });
    changePlayIn(recording.state, { countInBars: 1, preRollBars: 1 });
    await recording.start();
    await run(3000);
    await strike(38);
    expect(recording.state.getState().phase).toBe("countIn");
    await run(1500);
    await strike(36);
    await run(100);
    expect(recording.state.getState().phase).toBe("recording");
    recording.stop();
    expect(hits()).toEqual([["kick", 1920 + 480, 1, false]]);
  });

  it("waits for the first stroke, which is its beginning", async () => {
    changePlayIn(recording.state, { waitsForStroke: true });
    await recording.start();
    await run(5000);
    expect(recording.state.getState().phase).toBe("waiting");
    await strike(36);
    await run(500);
    await strike(38);
    recording.stop();
    expect(hits().map(([voiceId, tick]) => [voiceId, tick])).toEqual([
      ["kick", 0],
      ["snare", 480],
    ]);
  });

  it("repeats the first stroke as any other while it is held, and not once it was let go", async () => {
    changePlayIn(recording.state, { waitsForStroke: true, repeats: true, quantizes: false });
    await recording.start();
    await strike(36, 1100);
    await run(500);
    recording.stop();
    // Sixteenths at 120 bpm are 125 ms apart; they are made a little ahead.
    const held = hits().map(([, tick]) => tick as number);
    expect(held.slice(0, 9)).toEqual([0, 120, 240, 360, 480, 600, 720, 840, 960]);
    expect(held.length).toBeLessThanOrEqual(11);
    await recording.start();
    recording.strike({ note: 38, channel: 9, pedal: null, velocity: 90 }, performance.now(), "pads");
    recording.release(38);
    await run(1100);
    recording.stop();
    expect(hits().filter(([voiceId]) => voiceId === "snare")).toHaveLength(1);
  });

  it("on and on, grows the take and takes back what it did not need", async () => {
    changePlayIn(recording.state, { over: "on" });
    await recording.start();
    await run(9100);
    await strike(36);
    await run(300);
    // The take is made longer while it plays; it is not to end before a page that was held up gets to that.
    expect(isEndless).toBe(true);
    expect(store.take().lengthTicks).toBe(7 * 1920);
    recording.stop();
    expect(store.take().lengthTicks).toBe(5 * 1920);
    store.undo();
    expect(store.take().lengthTicks).toBe(2 * 1920);
  });

  it("replaces the drums that are struck, all, or what is under the playhead while a pad is held", async () => {
    await recording.start();
    for (const note of [36, 38, 42, 38]) {
      await strike(note);
      await run(900);
    }
    recording.stop();
    const muted = async (mode: "replaceDrums" | "replaceAll" | "replaceHeld", heldMs = 0) => {
      changePlayIn(recording.state, { mode });
      await recording.start();
      await run(850);
      await strike(38, heldMs);
      await run(300);
      recording.stop();
      const silent = hits().flatMap(([voiceId, , , isMuted]) => (isMuted ? [voiceId] : []));
      store.undo();
      return silent;
    };
    expect(await muted("replaceDrums")).toEqual(["snare", "snare"]);
    expect(await muted("replaceAll")).toEqual(["kick", "snare", "hat", "snare"]);
    expect(await muted("replaceHeld", 700)).toEqual(["snare"]);
    expect(hits().every(([, , , isMuted]) => !isMuted)).toBe(true);
  });

  it("takes off what an input is late by", async () => {
    changePlayIn(recording.state, { lateMs: { pads: 40 } });
    await recording.start();
    await run(540);
    await strike(38);
    recording.stop();
    expect(hits()).toEqual([["snare", 480, 1, false]]);
  });

  it("repeats a latched pad until it is struck again, over the end of the loop", async () => {
    changePlayIn(recording.state, { repeats: true, isLatched: true, quantizes: false });
    await recording.start();
    await run(3300);
    await strike(42);
    await run(1500);
    await strike(42);
    await run(800);
    recording.stop();
    const ticks = hits().map(([, tick]) => tick as number);
    const repeated = ticks.filter((tick) => tick % 120 === 0);
    expect(repeated.length).toBeGreaterThanOrEqual(11);
    expect(repeated.length).toBeLessThanOrEqual(13);
    expect(new Set(store.take().hits.map(({ pass }) => pass))).toEqual(new Set([1, 2]));
  });
});

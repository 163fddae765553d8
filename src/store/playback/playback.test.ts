import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { FakeAudio } from "../../audio/testing/fake-audio.ts";
import { changeTiming } from "../../core/commands/index.ts";
import type { Pattern } from "../../core/document/index.ts";
import { hitAt, patternOf } from "../../core/testing/patterns.ts";
import { type BenchStore, createBenchStore } from "../bench/bench-store.ts";
import { Playback } from "./playback.ts";

vi.mock("../../workers/index.ts", () => ({
  startKit: () => ({
    run: async () => Array.from({ length: 16 }, () => new Float32Array(500)),
    end: () => {},
  }),
}));

let audio: FakeAudio;
let store: BenchStore;
let playback: Playback;

// At 120 bpm a sixteenth is 125 ms; the hits are recorded 25 ms late.
const hits = Array.from({ length: 32 }, (_, index) => hitAt(index * 120 + 24));
const LATE_S = 0.025;

beforeEach(() => {
  vi.useFakeTimers();
  audio = new FakeAudio();
  for (const [name, fake] of Object.entries(audio.classes())) vi.stubGlobal(name, fake);
  vi.stubGlobal("document", { hidden: false });
  vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => {}, removeItem: () => {} });
  vi.stubGlobal("fetch", async () => Response.json({ ok: true, value: { revision: 1 } }));
  const pattern = patternOf(hits, { lengthTicks: 3840 });
  let turn = 0;
  store = createBenchStore(
    { id: "p", name: "", book: "", fileName: "", notices: [], revision: 0, isPlanned: true, pattern },
    () => `${turn++}`,
  );
  store.setClick({ isOn: false, hasOffBeats: false });
  playback = new Playback(store);
});

afterEach(() => {
  vi.useRealTimers();
});

/** Lets the audio clock and the timers run on together. */
async function run(seconds: number): Promise<void> {
  for (let left = seconds; left > 1e-9; left -= 0.025) {
    audio.currentTime += 0.025;
    await vi.advanceTimersByTimeAsync(25);
  }
}

async function start(): Promise<void> {
  await vi.advanceTimersByTimeAsync(5);
  void playback.play();
  await vi.advanceTimersByTimeAsync(1);
}

const tighten = () =>
  store.commit(
    "Tighten",
    changeTiming(store.getState().pattern, new Set(["snare"]), (timing) => ({
      ...timing,
      isOn: true,
      strengthPercent: 100,
    })),
  );
const startsMs = () => audio.played.map(({ startS }) => Math.round(startS * 1000));

describe("what stops a sound", () => {
  const ringing = (voiceId: string, more: object) =>
    patternOf([hitAt(0, { voiceId, articulationId: "open", ...more })], { lengthTicks: 3840 });
  const stopOf = async (pattern: Pattern) => {
    store = createBenchStore(
      { id: "q", name: "", book: "", fileName: "", notices: [], revision: 0, isPlanned: true, pattern },
      () => "x",
    );
    store.setClick({ isOn: false, hasOffBeats: false });
    playback = new Playback(store);
    await start();
    await run(0.5);
    const [sound] = audio.played;
    return sound?.chokedS == null ? null : Math.round((sound.chokedS - sound.startS) * 1000);
  };

  it("is the foot on the hats, at its time", async () => {
    expect(await stopOf(ringing("hat", { shutTicks: 240 }))).toBe(250);
  });

  it("is a hand on a cymbal, but not the foot", async () => {
    expect(await stopOf(ringing("crash", { shutTicks: 100, chokedTicks: 480 }))).toBe(500);
  });

  it("is nothing for a drum, which dies away by itself", async () => {
    expect(await stopOf(ringing("snare", { shutTicks: 100, chokedTicks: 480 }))).toBe(null);
  });
});

describe("tracks that are not drums", () => {
  it("are simple tones at their own times, when they are to be heard", async () => {
    const tones = [{ startTick: 480, lengthTicks: 240, note: 69, velocity: 80 }];
    store.hearTones(1, tones);
    await start();
    await run(1.2);
    expect(audio.tones).toHaveLength(1);
    const [tone] = audio.tones;
    expect(tone!.frequencyHz).toBe(440);
    expect(tone!.startS - audio.played[0]!.startS).toBeCloseTo(0.5 - LATE_S, 5);
    expect(tone!.endS - tone!.startS).toBeGreaterThanOrEqual(0.25);
    playback.stop();
    store.hearTones(1, null);
    playback.seek(0);
    await start();
    await run(1.2);
    expect(audio.tones).toHaveLength(1);
  });
});

describe("playing", () => {
  it("hands every event to the audio clock ahead of its time, exactly where it belongs", async () => {
    await start();
    const before = audio.currentTime;
    await run(2);
    const first = audio.played[0]!.startS;
    const offsets = audio.played.slice(0, 12).map(({ startS }) => Math.round((startS - first) * 1e6) / 1e6);
    expect(offsets).toEqual(Array.from({ length: 12 }, (_, index) => index * 0.125));
    expect(first).toBeGreaterThan(before);
  });

  it("is heard from the other side within a beat, without a doubled or a lost hit", async () => {
    await start();
    await run(0.8);
    tighten();
    await run(3);
    expect(audio.played).toHaveLength(32);
    const base = audio.played[0]!.startS - LATE_S;
    const drifts = audio.played.map(({ startS }, index) => Math.round((startS - base - index * 0.125) * 1000));
    expect(new Set(drifts.slice(0, 6))).toEqual(new Set([25]));
    expect(new Set(drifts.slice(10))).toEqual(new Set([0]));
  });

  it("loops, and knows its place", async () => {
    store.setLoop({ startTick: 480, endTick: 960 });
    await start();
    expect(store.getState().isPlaying).toBe(true);
    await run(2.2);
    expect(audio.played.length).toBeGreaterThanOrEqual(16);
    const gaps = startsMs()
      .slice(1)
      .map((ms, index) => ms - startsMs()[index]!);
    expect(new Set(gaps)).toEqual(new Set([125]));
    const place = playback.placeTick()!;
    expect(place).toBeGreaterThanOrEqual(480);
    expect(place).toBeLessThan(960);
  });

  it("clicks beats by the meter, and softer off-beats between", async () => {
    store.setClick({ isOn: true, hasOffBeats: true });
    store.setVoices("muted", new Set(["snare"]));
    await start();
    await run(2);
    const loudness = audio.played.slice(0, 8).map(({ gain }) => gain);
    expect(loudness[0]).toBeGreaterThan(loudness[2]!);
    expect(loudness[2]).toBeGreaterThan(loudness[1]!);
    expect(
      new Set(
        startsMs()
          .slice(0, 8)
          .map((ms) => (ms - startsMs()[0]!) % 250),
      ),
    ).toEqual(new Set([0]));
  });

  it("stops where it is, goes on from there, and returns to the start at the end", async () => {
    await start();
    await run(1);
    playback.stop();
    expect(store.getState()).toMatchObject({ isPlaying: false });
    const stopped = store.getState().playheadTick;
    expect(stopped).toBeGreaterThan(800);
    expect(audio.played.every(({ isStopped }) => isStopped)).toBe(true);
    await start();
    await run(5);
    expect(store.getState()).toMatchObject({ isPlaying: false, playheadTick: 0 });
  });

  it("goes on past the end where the take is to grow", async () => {
    await playback.playFrom(0, { isEndless: true });
    // The take lasts four seconds.
    await run(6);
    expect(store.getState().isPlaying).toBe(true);
    expect(playback.placeMs()).toBeGreaterThan(5500);
  });

  it("leaves muted voices out, and plays only soloed ones", async () => {
    store.setVoices("muted", new Set(["snare"]));
    await start();
    await run(0.5);
    expect(audio.played).toEqual([]);
    store.setVoices("soloed", new Set(["snare"]));
    await run(0.5);
    expect(audio.played.length).toBeGreaterThan(2);
  });

  it("seeks while it plays without stopping", async () => {
    await start();
    await run(0.3);
    playback.seek(1920);
    await vi.advanceTimersByTimeAsync(1);
    await run(0.3);
    expect(store.getState().isPlaying).toBe(true);
    expect(playback.placeTick()).toBeGreaterThan(1920);
  });

  it("sounds a stroke when it is asked to", async () => {
    await vi.advanceTimersByTimeAsync(5);
    await playback.audition("snare", "centre", 100);
    expect(audio.played).toHaveLength(1);
  });
});

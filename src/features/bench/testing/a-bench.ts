import { vi } from "vitest";
import type { Pattern } from "../../../core/document/index.ts";
import { hitAt, laneOf, patternOf } from "../../../core/testing/patterns.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { createBenchStore } from "../../../store/bench/bench-store.ts";
import type { Playback } from "../../../store/playback/playback.ts";
import { Recording } from "../../../store/playin/recording.ts";

/** A kick, three snares and two hats in four bars of 4/4, at 480 ticks a quarter; the snare is open, and one px is 10 ticks. */
export function openABench(): Bench {
  vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => {}, removeItem: () => {} });
  const hits = [
    hitAt(0, { id: "k", voiceId: "kick", articulationId: "main", note: 36 }),
    hitAt(240, { id: "h1", voiceId: "hat", articulationId: "closed", note: 42 }),
    hitAt(480, { id: "a", recordedVelocity: 60 }),
    hitAt(720, { id: "h2", voiceId: "hat", articulationId: "closed", note: 42 }),
    hitAt(1440, { id: "b", recordedVelocity: 100 }),
    hitAt(2400, { id: "c", recordedVelocity: 62 }),
  ];
  return openBenchOn(patternOf(hits, { lengthTicks: 7680, lanes: [laneOf("hat"), laneOf("snare"), laneOf("kick")] }));
}

/** A Bench on any pattern; nothing of it is saved, and nothing sounds. */
export function openBenchOn(pattern: Pattern): Bench {
  const saved = (init?: RequestInit) => (init?.body ? { revision: 1 } : []);
  vi.stubGlobal("fetch", async (_path: string, init?: RequestInit) => Response.json({ ok: true, value: saved(init) }));
  let turn = 0;
  const store = createBenchStore(
    { id: "p", name: "Take", book: "", fileName: "", notices: [], revision: 0, isPlanned: true, pattern },
    () => `id ${turn++}`,
  );
  store.setViewport({ startTick: 0, ticksPerPx: 10, widthPx: 768 });
  const nothing = () => {};
  const playback = {
    audition: async () => {},
    seek: nothing,
    play: async () => {},
    placeTick: () => null,
    stop: nothing,
    strike: nothing,
    passOver: nothing,
    prepareClock: async () => ({ eventMs: 0, audioMs: 0 }),
    readClocks: () => ({ eventMs: 0, audioMs: 0 }),
    // Stopped again before it began.
    playFrom: async () => null,
  } as unknown as Playback;
  return { store, playback, recording: new Recording(store, playback), pointerTick: null };
}

import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { MidiClock, MidiOut, type OutNote, type SoundEvent } from "./index.ts";

type Sent = readonly [data: readonly number[], timeMs: number | undefined];

function aPort() {
  const sent: Sent[] = [];
  const port = { send: (data: readonly number[], timeMs?: number) => void sent.push([data, timeMs]) };
  const noteOf = ({ voiceId, articulationId }: SoundEvent): OutNote | null =>
    voiceId === "click"
      ? null
      : {
          note: voiceId === "hat" ? 42 : 38,
          channel: 9,
          pedal: voiceId === "hat" ? (articulationId === "open" ? 0 : 127) : null,
        };
  return { sent, port, out: new MidiOut(port, noteOf) };
}

const event = (voiceId: string, articulationId = "centre", more: Partial<SoundEvent> = {}): SoundEvent => ({
  key: "",
  ms: 0,
  voiceId,
  articulationId,
  velocity: 90,
  ...more,
});

describe("a device that plays", () => {
  it("gets every note at its moment, ended, and nothing for what it has no note for", () => {
    const { sent, out } = aPort();
    out.play(event("snare"), 1234.5);
    out.play(event("click"), 1300);
    expect(sent).toEqual([
      [[0x99, 38, 90], 1234.5],
      [[0x89, 38, 0], 1284.5],
    ]);
  });

  it("is told where the hat pedal is before a stroke that needs it elsewhere, and of hands that choke", () => {
    const { sent, out } = aPort();
    out.play(event("hat", "closed"), 0);
    out.play(event("hat", "closed"), 100);
    out.play(event("hat", "open", { stopAfterMs: 200 }), 200);
    const pedals = sent.filter(([[status]]) => status === 0xb9);
    expect(pedals).toEqual([
      [[0xb9, 4, 127], 0],
      [[0xb9, 4, 0], 200],
    ]);
    expect(sent.filter(([[status]]) => status === 0xa9)).toEqual([
      [[0xa9, 42, 127], 400],
      [[0xa9, 42, 0], 401],
    ]);
  });

  it("is silent after a stop: what sounds is ended, on the channels that were played", () => {
    const { sent, out } = aPort();
    out.play(event("snare"), 1000);
    out.play(event("snare"), 2000);
    sent.length = 0;
    out.silence(1990);
    expect(sent).toEqual([
      [[0x89, 38, 0], undefined],
      [[0xb9, 123, 0], undefined],
      [[0xb9, 120, 0], undefined],
    ]);
    sent.length = 0;
    out.panic();
    expect(new Set(sent.map(([[status]]) => status! & 15)).size).toBe(16);
  });

  it("never sends a note that is no note, or leaves one on", () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({ velocity: fc.double({ min: -5, max: 300, noNaN: true }), ms: fc.integer({ min: 0, max: 5000 }) }),
        ),
        (strokes) => {
          const { sent, out } = aPort();
          for (const { velocity, ms } of strokes) out.play(event("snare", "centre", { velocity }), ms);
          const ons = sent.filter(([[status]]) => status === 0x99);
          expect(
            ons.every(([[, , velocity = 0]]) => velocity >= 1 && velocity <= 127 && Number.isInteger(velocity)),
          ).toBe(true);
          expect(sent.filter(([[status]]) => status === 0x89)).toHaveLength(ons.length);
        },
      ),
    );
  });
});

describe("the clock of a device", () => {
  it("starts, pulses 24 times a quarter at the tempo of the place, and stops", () => {
    const { sent, port } = aPort();
    const clock = new MidiClock(port, 1, 5000);
    // 120 bpm for a second, and 60 after it, asked for piece by piece.
    for (let untilS = 1; untilS <= 3.001; untilS += 0.15)
      clock.plan(
        untilS,
        (timeS) => (timeS < 2 - 1e-9 ? 500 : 1000),
        (timeS) => 4000 + timeS * 1000,
      );
    clock.stop();
    expect(sent[0]).toEqual([[0xfa], 5000]);
    expect(sent.at(-1)).toEqual([[0xfc], undefined]);
    const pulses = sent.flatMap(([[status], timeMs]) => (status === 0xf8 ? [timeMs!] : []));
    expect(pulses[0]).toBe(5000);
    expect(pulses[48]).toBeCloseTo(6000, 6);
    expect(pulses[49]! - pulses[48]!).toBeCloseTo(1000 / 24, 6);
  });
});

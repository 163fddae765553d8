import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Hit } from "../document/index.ts";
import { DEFAULT_TREATMENT } from "../document/treatment.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { hitAt, MS_PER_TICK } from "../testing/patterns.ts";
import { buildTimeMaps } from "../time/index.ts";
import { treat } from "../treat.ts";
import { studyVoices } from "./index.ts";

// Fills go over the drums: each has a hit or two, and all together say what the beat is on.

const BAR = 1920;
const maps = buildTimeMaps({ ppq: 480, meters: [], tempos: [] });
const DRUMS = ["kick", "snare", "tom-1", "tom-2", "tom-4", "tom-5"];

/** A stroke as it was meant. */
interface Meant {
  readonly tick: number;
  readonly voiceId: string;
}

/** Time for four bars, of which the last beats are a fill; over and over. */
function part(
  rounds: number,
  fill: readonly Meant[],
  fillTicks: number,
  foot: readonly number[] = [],
): readonly Meant[] {
  const fillStart = 4 * BAR - fillTicks;
  return Array.from({ length: rounds }, (_, round) => {
    const time = [0, 1, 2, 3].flatMap((bar) => [
      ...[0, 240, 480, 720, 960, 1200, 1440, 1680].map((tick) => ({ tick: bar * BAR + tick, voiceId: "hat" })),
      ...[0, 600, 960, 1320].map((tick) => ({ tick: bar * BAR + tick, voiceId: "kick" })),
      ...[480, 840, 1440].map((tick) => ({ tick: bar * BAR + tick, voiceId: "snare" })),
    ]);
    const all = [
      ...time.filter(({ tick }) => tick < fillStart),
      ...fill.map(({ tick, voiceId }) => ({ tick: fillStart + tick, voiceId })),
      ...foot.map((tick) => ({ tick: fillStart + tick, voiceId: "hat-pedal" })),
    ];
    return all.map(({ tick, voiceId }) => ({ tick: round * 4 * BAR + tick, voiceId }));
  }).flat();
}

/** Plays a part some ms late, each stroke up to some ms off, and says which hits are put elsewhere than they were meant. */
function putOnSlots(meant: readonly Meant[], lateMs: number, offsMs: readonly number[]) {
  const played = meant.map(({ tick, voiceId }, index) => {
    const offMs = lateMs + offsMs[(index * 7919) % offsMs.length]!;
    return {
      meant: tick,
      hit: hitAt(Math.max(0, Math.round(tick + offMs / MS_PER_TICK)), { id: `${index}`, voiceId }),
    };
  });
  const byVoice = new Map<string, readonly Hit[]>();
  const ticksOf = ({ hit }: (typeof played)[number]) => hit.recordedTick!;
  for (const one of played.toSorted((a, b) => ticksOf(a) - ticksOf(b)))
    byVoice.set(one.hit.voiceId, [...(byVoice.get(one.hit.voiceId) ?? []), one.hit]);
  const { found } = studyVoices(byVoice, GENERAL_MIDI, maps);
  const tickOf = new Map(
    [...byVoice].flatMap(([voiceId, hits]) => {
      const { grid, stretches, meanDriftMs: pocketMs } = found.get(voiceId)!;
      const timing = { ...DEFAULT_TREATMENT.timing, isOn: true, strengthPercent: 100, grid, stretches, pocketMs };
      const { ticks } = treat(hits, { ...DEFAULT_TREATMENT, timing }, maps, 20 * BAR);
      return hits.map(({ id }, row) => [id, ticks[row]!] as const);
    }),
  );
  return { found, wrong: played.filter(({ meant, hit }) => tickOf.get(hit.id) !== meant) };
}

const wobble = (ms: number) => Array.from({ length: 17 }, (_, index) => (index / 8 - 1) * ms);
const sextuplets = (...drums: readonly string[]) => drums.map((voiceId, step) => ({ tick: step * 80, voiceId }));

describe("fills over the drums", () => {
  it("are sextuplets though each drum has two of them, hands and feet in turn, and the take is late", () => {
    const one = ["snare", "tom-2", "kick", "snare", "tom-2", "kick"];
    const fill = sextuplets(...one, "snare", "tom-4", "kick", "tom-5", "tom-5", "kick");
    const { wrong } = putOnSlots(part(4, fill, 960), 40, wobble(9));
    expect(wrong.map(({ meant, hit }) => `${hit.voiceId} at ${meant / 480}`)).toEqual([]);
  });

  it("leave a foot that goes on in eighths where it is", () => {
    const fill = sextuplets("snare", "snare", "tom-2", "tom-2", "tom-4", "tom-4");
    const { wrong, found } = putOnSlots(part(4, fill, 480, [0, 240]), 0, wobble(9));
    expect(wrong).toEqual([]);
    expect(found.get("hat-pedal")!.grid.family).toBe("straight");
  });

  it("are told however they are spread over the drums", () => {
    const anyFill = fc.array(fc.constantFrom(...DRUMS), { minLength: 12, maxLength: 12 });
    fc.assert(
      fc.property(anyFill, fc.integer({ min: -20, max: 40 }), (drums, lateMs) => {
        const { wrong } = putOnSlots(part(4, sextuplets(...drums), 960), lateMs, wobble(7));
        expect(wrong.map(({ meant, hit }) => `${hit.voiceId} at ${meant / 480}`)).toEqual([]);
      }),
      { numRuns: 40 },
    );
  });

  it("are none where hands hurry a straight one", () => {
    const straight = ["snare", "snare", "tom-2", "tom-2", "tom-4", "tom-4", "tom-5", "tom-5"];
    const fill = straight.map((voiceId, step) => ({ tick: step * 120 - step * 2, voiceId }));
    const { found } = putOnSlots(part(4, fill, 960), 0, wobble(9));
    for (const { grid, stretches } of found.values())
      for (const one of [grid, ...stretches.map((stretch) => stretch.grid)]) expect(one.family).toBe("straight");
  });
});

import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Hit } from "../../document/index.ts";
import { GENERAL_MIDI } from "../../notemap/index.ts";
import { hitAt, MS_PER_TICK } from "../../testing/patterns.ts";
import { buildTimeMaps } from "../../time/index.ts";
import { findFaults } from "./find-faults.ts";

const maps = buildTimeMaps({ ppq: 480, meters: [], tempos: [] });
const BARS = 16;
const BAR = 1920;
const VOICES = { kick: 36, snare: 38, rim: 37, hat: 42, ride: 51, "tom-5": 41 } as const;
type Pad = keyof typeof VOICES;

let turn = 0;
/** Numbers that look like chance and are the same each time: −1 to 1. */
const chance = (index: number) => {
  const far = 43_758.545 * Math.sin(12.9898 * (index + 1));
  return 2 * (far - Math.floor(far)) - 1;
};
const struck = (pad: Pad, ms: number, velocity: number): Hit =>
  hitAt(Math.max(0, Math.round(ms / MS_PER_TICK)), {
    id: `${pad} ${turn++}`,
    note: VOICES[pad],
    voiceId: pad === "rim" ? "snare" : pad,
    recordedVelocity: Math.round(velocity),
  });
/** Strokes at steps of sixteenths of every bar, as a hand plays them that is off by up to so many ms. */
const played = (pad: Pad, steps: readonly number[], velocity: number, offMs: number, softer = 6): Hit[] =>
  Array.from({ length: BARS }, (_, bar) => bar).flatMap((bar) =>
    steps.map((step) => {
      const own = chance(turn * 7 + step);
      const ms = (BAR * (bar + 1) + step * 120) * MS_PER_TICK + offMs * own;
      return struck(pad, ms, velocity + softer * chance(turn * 13));
    }),
  );
const msOf = (hit: Hit) => hit.recordedTick! * MS_PER_TICK;
/** What a pad makes of some of the strokes of another: up to so late and so loud. */
const heard = (causes: readonly Hit[], pad: Pad, share: number, lateMs: number, loudness: number): Hit[] =>
  causes.flatMap((cause, index) => {
    if (Math.abs(chance(index * 31 + 5)) > share) return [];
    const late = ((1 + chance(index * 17)) / 2) * lateMs;
    const loud = loudness * (0.7 + 0.3 * chance(index * 23));
    return [struck(pad, msOf(cause) + late, cause.recordedVelocity! * loud)];
  });
const faultsOf = (...lists: readonly (readonly Hit[])[]) => {
  const byVoice = new Map<string, Hit[]>();
  for (const hit of lists.flat().sort((a, b) => a.recordedTick! - b.recordedTick!))
    byVoice.set(hit.voiceId, [...(byVoice.get(hit.voiceId) ?? []), hit]);
  return findFaults(byVoice, GENERAL_MIDI, maps);
};
const idsOf = (hits: readonly { readonly id: string }[]) => hits.map(({ id }) => id).sort();
const markedOf = (...lists: readonly (readonly Hit[])[]) =>
  faultsOf(...lists)
    .map(({ hitId }) => hitId)
    .sort();

const ROCK = { kick: [0, 6, 8], snare: [4, 12], hat: [0, 2, 4, 6, 8, 10, 12, 14] } as const;

describe("a pad that hears others", () => {
  it("does so late, and as loud as a ghost: now this stroke and now that", () => {
    const kicks = played("kick", ROCK.kick, 108, 8);
    const snares = played("snare", ROCK.snare, 112, 8);
    const picked = heard(kicks, "tom-5", 0.5, 11, 0.3);
    expect(picked.length).toBeGreaterThan(12);
    expect(Math.max(...picked.map(({ recordedVelocity }) => recordedVelocity!))).toBeGreaterThan(0.28 * 108);
    const marked = faultsOf(kicks, snares, played("hat", ROCK.hat, 80, 8), picked);
    expect(marked.map(({ hitId }) => hitId).sort()).toEqual(idsOf(picked));
    expect(new Set(marked.map((fault) => [fault.kind, fault.causeVoiceId].join()))).toEqual(
      new Set(["crossTalk,kick"]),
    );
  });

  it("may send it in the same breath: hands are not together as closely", () => {
    const kicks = played("kick", ROCK.kick, 108, 8);
    const others = [played("snare", ROCK.snare, 112, 8), played("hat", ROCK.hat, 80, 8)];
    const picked = heard(kicks, "tom-5", 0.5, 0, 0.3);
    expect(markedOf(kicks, ...others, picked)).toEqual(idsOf(picked));
  });

  it("may play ghosts as well: those stay", () => {
    const kicks = played("kick", ROCK.kick, 108, 6);
    const ghosts = played("snare", [3, 7, 9, 15], 36, 6, 5);
    const picked = heard(kicks, "snare", 0.6, 9, 0.16);
    const marked = markedOf(kicks, played("snare", ROCK.snare, 112, 6), ghosts, picked);
    expect(marked).toEqual(idsOf(picked));
  });

  it("is one zone of a drum, whatever is played on another", () => {
    const kicks = played("kick", ROCK.kick, 108, 6);
    const ghosts = played("snare", [2, 3, 7, 9, 10, 15], 24, 6, 10);
    const picked = heard(kicks, "rim", 0.5, 9, 0.22);
    expect(markedOf(kicks, ghosts, picked)).toEqual(idsOf(picked));
  });
});

describe("soft strokes along with hard ones", () => {
  it("are played where they come at the same places of each bar", () => {
    const kicks = played("kick", [0, 3, 8, 11], 115, 3);
    // Always a little behind, as a hand may be.
    const ghosts = [3, 11].flatMap((step) =>
      kicks
        .filter((kick) => kick.recordedTick! % BAR > step * 120 - 60 && kick.recordedTick! % BAR < step * 120 + 60)
        .map((kick, index) => struck("snare", msOf(kick) + 4 + 3 * chance(index + step), 27)),
    );
    expect(ghosts.length).toBe(2 * BARS);
    expect(markedOf(kicks, ghosts, played("snare", [4, 12], 110, 3))).toEqual([]);
  });

  it("are a feathered kick under a ride, however closely they go together", () => {
    const rides = played("ride", [0, 4, 8, 12], 100, 3);
    const kicks = rides.map((ride, index) =>
      struck("kick", msOf(ride) + 3 + 2 * chance(index), 26 + 3 * chance(index * 3)),
    );
    expect(markedOf(rides, kicks)).toEqual([]);
  });

  it("were written where they are at once to the tick", () => {
    const kicks = played("kick", ROCK.kick, 115, 0);
    const ghosts = kicks
      .filter((_, index) => Math.abs(chance(index * 31 + 5)) < 0.6)
      .map((kick) => struck("snare", msOf(kick), 16));
    expect(ghosts.length).toBeGreaterThan(12);
    expect(markedOf(kicks, ghosts, played("snare", ROCK.snare, 110, 0))).toEqual([]);
  });

  it("stay also where they come with any of the strokes, but ahead of them as often as behind", () => {
    const kicks = played("kick", ROCK.kick, 115, 6);
    const along = kicks.flatMap((kick, index) =>
      Math.abs(chance(index * 31 + 5)) < 0.6 ? [struck("snare", msOf(kick) + 14 * chance(index * 11), 26)] : [],
    );
    expect(markedOf(kicks, along)).toEqual([]);
  });
});

describe("a pad that triggers twice", () => {
  it("may do so more than half as loud as the stroke, where no hand could be so quick", () => {
    const snares = played("snare", ROCK.snare, 110, 8);
    const echoes = [2, 9, 17, 23].map((index) => struck("snare", msOf(snares[index]!) + 9 + index / 4, 0.58 * 110));
    expect(markedOf(snares, echoes)).toEqual(idsOf(echoes));
    // As far behind as a drag is, the same are strokes.
    const strokes = [2, 9, 17, 23].map((index) => struck("snare", msOf(snares[index]!) + 40 + index / 4, 0.62 * 110));
    expect(markedOf(snares, strokes)).toEqual([]);
  });

  it("does not do so to the tick: such strokes were written", () => {
    const hats = played("hat", ROCK.hat, 100, 0);
    const again = [5, 21, 37, 53, 69, 85, 101].map((index) => struck("hat", msOf(hats[index]!) + 46.875, 45));
    expect(markedOf(hats, again)).toEqual([]);
  });
});

describe("whatever is struck", () => {
  it("no hit is marked twice, no echo is to blame, and all that is marked is weaker than what is", () => {
    const pads = Object.keys(VOICES) as Pad[];
    const stroke = fc.record({
      pad: fc.constantFrom(...pads),
      ms: fc.integer({ min: 0, max: 6000 }),
      velocity: fc.integer({ min: 1, max: 127 }),
    });
    fc.assert(
      fc.property(fc.array(stroke, { maxLength: 120 }), (strokes) => {
        const hits = strokes.map(({ pad, ms, velocity }) => struck(pad, ms, velocity));
        const byId = new Map(hits.map((hit) => [hit.id, hit]));
        const faults = faultsOf(hits);
        expect(new Set(faults.map(({ hitId }) => hitId)).size).toBe(faults.length);
        const echoes = new Set(faults.flatMap(({ kind, hitId }) => (kind === "double" ? [hitId] : [])));
        for (const { causeId, hitId, loudness } of faults) {
          expect(echoes.has(causeId)).toBe(false);
          expect(byId.get(hitId)!.recordedVelocity).toBeLessThan(byId.get(causeId)!.recordedVelocity!);
          expect(loudness).toBeLessThan(0.7);
        }
      }),
    );
  });
});

import { describe, expect, it } from "vitest";
import type { Hit } from "../document/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { hitAt, MS_PER_TICK } from "../testing/patterns.ts";
import { buildTimeMaps, gridName } from "../time/index.ts";
import { faultSentence, foundGridSentence, studyVoices } from "./index.ts";

const maps = buildTimeMaps({ ppq: 480, meters: [], tempos: [] });
/** A repeatable wobble of some ms, so that nothing is too exact to be played. */
const wobble = (index: number, ms: number) => Math.round((((index * 7919) % 17) / 8 - 1) * (ms / MS_PER_TICK));
let turn = 0;
const hit = (tick: number, velocity: number, voiceId = "snare"): Hit =>
  hitAt(Math.max(0, tick), { id: `${voiceId} ${turn++}`, voiceId, recordedVelocity: velocity });
const study = (...voices: readonly (readonly [string, readonly Hit[]])[]) =>
  studyVoices(new Map(voices), GENERAL_MIDI, maps);
const bars = (count: number, ofBar: (start: number, bar: number) => readonly number[]) =>
  Array.from({ length: count }, (_, bar) => ofBar(bar * 1920, bar)).flat();
const wobbled = (ticks: readonly number[], velocity: number, voiceId: string, ms = 6) =>
  ticks.map((tick, index) => hit(tick + wobble(index, ms), velocity, voiceId));
const steps = (start: number, ...of: number[]) => of.map((step) => start + step);

describe("how late a take came in", () => {
  it("is told by where it begins, when every eighth of it is alike", () => {
    const eighths = bars(8, (start) => Array.from({ length: 8 }, (_, step) => start + step * 240));
    const late = (lateMs: number) =>
      ["hat", "kick", "snare"].map(
        (voiceId) =>
          [
            voiceId,
            wobbled(
              eighths.map((tick) => tick + 1920 + lateMs / MS_PER_TICK),
              90,
              voiceId,
            ),
          ] as const,
      );
    // At this tempo an eighth is 250 ms: 132 ms late is 118 ms early as well.
    for (const lateMs of [-132, 132]) {
      const { lateMs: told } = study(...late(lateMs)).lateness;
      expect(Math.abs(told - lateMs)).toBeLessThan(12);
    }
  });
});

describe("the grids of a take", () => {
  it("are other ones in the beats where triplets are played in a straight part", () => {
    const ticks = bars(8, (start, bar) =>
      bar % 4 === 3
        ? [...steps(start, 0, 240, 480, 720), ...steps(start + 960, 0, 160, 320), start + 1440]
        : steps(start, 0, 240, 480, 600, 720, 960, 1200, 1440, 1680, 1800),
    );
    const found = study(["snare", wobbled(ticks, 90, "snare")]).found.get("snare")!;
    expect(gridName(found.grid)).toBe("sixteenths");
    expect(found.stretches.map(({ startTick, endTick, grid }) => [startTick, endTick, gridName(grid)])).toEqual([
      [3 * 1920 + 960, 3 * 1920 + 1440, "eighth triplets"],
      [7 * 1920 + 960, 7 * 1920 + 1440, "eighth triplets"],
    ]);
    expect(foundGridSentence(found)).toMatch(/^sixteenths with eighth triplets in 2 places, /);
    expect(found.shareExplained).toBeGreaterThan(0.95);
  });

  it("are finer in a roll, and not everywhere because of it", () => {
    const ticks = bars(8, (start, bar) =>
      bar === 5
        ? Array.from({ length: 16 }, (_, step) => start + 960 + step * 60)
        : steps(start, 0, 240, 480, 720, 840, 960, 1200, 1440, 1560, 1680),
    );
    const found = study(["snare", wobbled(ticks, 90, "snare", 5)]).found.get("snare")!;
    expect(gridName(found.grid)).toBe("sixteenths");
    expect(found.stretches.map(({ startTick, endTick, grid }) => [startTick, endTick, gridName(grid)])).toEqual([
      [5 * 1920 + 960, 6 * 1920, "thirty-seconds"],
    ]);
  });

  it("are swung where all voices together show it, also for a voice with few hits", () => {
    const swung = (tick: number) => (tick % 240 === 120 ? tick + 240 * 0.09 : tick);
    const hats = bars(8, (start) => Array.from({ length: 16 }, (_, step) => start + step * 120));
    const kicks = bars(8, (start) => steps(start, 0, 360, 960, 1320));
    const { found } = study(
      ["hat", wobbled(hats.map(swung), 80, "hat")],
      ["kick", wobbled(kicks.map(swung), 100, "kick")],
    );
    for (const voiceId of ["hat", "kick"]) {
      const { grid } = found.get(voiceId)!;
      expect([voiceId, grid.family, grid.denominator]).toEqual([voiceId, "straight", 16]);
      expect(grid.swingPercent).toBeGreaterThan(58);
      expect(grid.swingPercent).toBeLessThan(60);
    }
  });

  it("keep the swing of the hats though ghosts are on the triplets between them", () => {
    const pair = [0, 0.64 * 480];
    const hats = bars(8, (start) => [0, 480, 960, 1440].flatMap((beat) => steps(start + beat, ...pair)));
    const strokes = bars(8, (start) => steps(start, 960));
    const ghosts = bars(8, (start) => steps(start + 160, 0, 480, 960, 1440));
    const snare = [...wobbled(strokes, 110, "snare"), ...wobbled(ghosts, 30, "snare")];
    const { found } = study(
      ["hat", wobbled(hats, 80, "hat")],
      ["snare", snare.sort((a, b) => a.recordedTick! - b.recordedTick!)],
    );
    expect(Math.abs(found.get("hat")!.grid.swingPercent! - 64)).toBeLessThan(0.5);
    expect(found.get("snare")!.grid.family).toBe("triplet");
  });

  it("are not swung by chance, nor late by half a step where a voice only plays off the beat", () => {
    const straight = bars(8, (start) => Array.from({ length: 16 }, (_, step) => start + step * 120));
    const offBeats = bars(8, (start) => steps(start, 240, 720, 1200, 1680));
    const { found } = study(["snare", wobbled(straight, 90, "snare", 12)], ["hat", wobbled(offBeats, 90, "hat", 8)]);
    expect(found.get("snare")!.grid.swingPercent).toBeUndefined();
    expect(gridName(found.get("hat")!.grid)).toBe("eighths");
    expect(Math.abs(found.get("hat")!.meanDriftMs)).toBeLessThan(10);
  });

  it("know on which side of the line a voice is from how late the whole take came in", () => {
    // All are 45 ms late; for thirty-seconds that is most of a step, or 17 ms early.
    const late = (ticks: readonly number[]) => ticks.map((tick) => tick + Math.round(45 / MS_PER_TICK));
    const kicks = bars(8, (start) => steps(start, 0, 480, 960, 1440));
    const rolls = bars(8, (start) => Array.from({ length: 32 }, (_, step) => start + step * 60));
    const { found } = study(
      ["kick", wobbled(late(kicks), 100, "kick")],
      ["hat", wobbled(late(kicks), 100, "hat")],
      ["snare", wobbled(late(rolls), 90, "snare", 4)],
    );
    expect(found.get("snare")!.meanDriftMs).toBeGreaterThan(35);
  });
});

describe("hits that nobody played", () => {
  const backBeats = bars(10, (start) => steps(start, 480, 1440));

  it("are double triggers: soon after a stroke and clearly weaker", () => {
    const strokes = wobbled(backBeats, 110, "snare");
    const echoes = [3, 8].map((index) => hit(strokes[index]!.recordedTick! + 24, 34));
    const hits = [...strokes, ...echoes].sort((a, b) => a.recordedTick! - b.recordedTick!);
    const { faults, found } = study(["snare", hits]);
    expect(faults.map(({ kind, hitId }) => [kind, hitId])).toEqual(echoes.map(({ id }) => ["double", id]));
    expect(gridName(found.get("snare")!.grid)).toBe("quarters");
    expect(faultSentence(faults[0]!, () => "Snare")).toBe(
      "Snare, 31 % as loud as its stroke 25 ms before: it triggered twice.",
    );
  });

  it("are only what is faint and at once in a voice that plays rolls: a weak stroke of a loose one was meant", () => {
    // Quarters, and now and then a bar of thirty-seconds that stumble: a weak one comes far too early.
    const quarters = Array.from({ length: 40 }, (_, beat) => hit(beat * 480, 100));
    const rolls = [5, 12, 20, 30].flatMap((beat) =>
      Array.from({ length: 6 }, (_, step) =>
        hit(beat * 480 + (step + 1) * 70 - (step % 3 === 2 ? 25 : 0), step % 3 === 2 ? 48 : 96),
      ),
    );
    const echo = hit(8 * 480 + 24, 30);
    const { faults } = study([
      "snare",
      [...quarters, ...rolls, echo].sort((a, b) => a.recordedTick! - b.recordedTick!),
    ]);
    expect(faults.map(({ hitId }) => hitId)).toEqual([echo.id]);
  });

  it("are not flams, drags or strokes of a roll", () => {
    const flams = backBeats.flatMap((tick) => [hit(tick - 26, 44), hit(tick, 110)]);
    const roll = Array.from({ length: 32 }, (_, step) => hit(20_000 + step * 45, step % 2 === 0 ? 90 : 40));
    expect(study(["snare", [...flams, ...roll]]).faults).toEqual([]);
  });

  it("are cross-talk: faint, with a hard stroke on another pad, again and again", () => {
    const strokes = wobbled(backBeats, 110, "snare");
    const picked = strokes
      .slice(0, 12)
      .map(({ recordedTick }, index) => hit(recordedTick! + 3 + (index % 2), 11, "tom-2"));
    const real = [hit(19_200, 90, "tom-2"), hit(19_440, 96, "tom-2")];
    const { faults } = study(["snare", strokes], ["tom-2", [...picked, ...real]]);
    expect(new Set(faults.map(({ hitId }) => hitId))).toEqual(new Set(picked.map(({ id }) => id)));
    const nameOf = (voiceId: string) => (voiceId === "snare" ? "Snare" : "Rack tom");
    expect(faultSentence(faults[0]!, nameOf)).toBe(
      "Rack tom, 10 % as loud as the snare 3 ms before; 12 of 12 such weak hits come with one.",
    );
  });

  it("are not ghosts that are played along, a few that may be meant, or what a hand has muted", () => {
    const strokes = wobbled(backBeats, 110, "kick");
    const along = strokes.map(({ recordedTick }, index) => hit(recordedTick! + wobble(index * 3 + 1, 22), 24, "snare"));
    expect(study(["kick", strokes], ["snare", along.sort((a, b) => a.recordedTick! - b.recordedTick!)]).faults).toEqual(
      [],
    );
    const few = strokes.slice(0, 3).map(({ recordedTick }) => hit(recordedTick! + 3, 24, "tom-2"));
    expect(study(["kick", strokes], ["tom-2", few]).faults).toEqual([]);
    const muted: Hit = { ...hit(strokes[2]!.recordedTick! + 24, 30, "kick"), isMuted: true };
    expect(study(["kick", [...strokes, muted].sort((a, b) => a.recordedTick! - b.recordedTick!)]).faults).toEqual([]);
  });

  it("are cross-talk also where it is seldom and very faint, and where a pad hears several others, none of them often", () => {
    const kicks = wobbled(backBeats, 110, "kick");
    const seldom = kicks.slice(0, 2).map(({ recordedTick }) => hit(recordedTick! + 3, 11, "tom-2"));
    expect(study(["kick", kicks], ["tom-2", seldom]).faults.map(({ hitId }) => hitId)).toEqual(
      seldom.map(({ id }) => id),
    );
    const snares = wobbled(
      backBeats.map((tick) => tick + 480),
      108,
      "snare",
    );
    const causes = [kicks[0]!, snares[1]!, kicks[3]!, snares[4]!, kicks[6]!, snares[7]!];
    const heard = causes.map(({ recordedTick }, index) => hit(recordedTick! + 3 + (index % 3), 22, "tom-5"));
    const played = bars(8, (start) => [start + 1700]).map((tick) => hit(tick, 92, "tom-5"));
    const toms = [...heard, ...played].sort((a, b) => a.recordedTick! - b.recordedTick!);
    const { faults } = study(["kick", kicks], ["snare", snares], ["tom-5", toms]);
    expect(faults.map(({ hitId }) => hitId).sort()).toEqual(heard.map(({ id }) => id).sort());
    expect(new Set(faults.map(({ causeVoiceId }) => causeVoiceId))).toEqual(new Set(["kick", "snare"]));
  });

  it("are cross-talk also just after a stroke of the pad itself, where it hears others, and double triggers where it hears none", () => {
    const snares = wobbled(backBeats, 110, "snare");
    const toms = snares.map(({ recordedTick }) => hit(recordedTick! - 6, 96, "tom-2"));
    const heard = snares
      .slice(0, 5)
      .map(({ recordedTick }, index) => hit(recordedTick! + 1 + (index % 3), 12, "tom-2"));
    const echo = hit(toms[14]!.recordedTick! + 28, 30, "tom-2");
    const inOrder = (hits: readonly Hit[]) => hits.toSorted((a, b) => a.recordedTick! - b.recordedTick!);
    const kindsOf = (hits: readonly Hit[]) =>
      study(["snare", snares], ["tom-2", inOrder(hits)]).faults.map(({ kind, hitId }) => `${kind} ${hitId}`);
    const talks = heard.map(({ id }) => `crossTalk ${id}`);
    expect(kindsOf([...toms, ...heard, echo])).toEqual([`double ${echo.id}`, ...talks]);
    expect(kindsOf([...toms, heard[3]!, echo])).toEqual([`double ${heard[3]!.id}`, `double ${echo.id}`]);
  });

  it("stand takes of nothing, of one hit, and of all hits at one tick", () => {
    expect(study().faults).toEqual([]);
    expect(study(["snare", []], ["kick", [hit(5, 90, "kick")]]).found.size).toBe(1);
    const heap = Array.from({ length: 500 }, () => hit(100, 90));
    expect(study(["snare", heap], ["kick", heap.map((one) => ({ ...one, id: `k${one.id}` }))]).faults).toEqual([]);
  });
});

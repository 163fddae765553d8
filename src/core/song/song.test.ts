import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { createRandom } from "../../standin/random.ts";
import { hitsByVoice } from "../document/index.ts";
import { hitAt, laneOf, patternOf } from "../testing/patterns.ts";
import { BAR, cutAll, laidOf, newId, takeOf } from "../testing/songs.ts";
import { barByIndex, buildTimeMaps, tickToMs } from "../time/index.ts";
import { treat } from "../treat.ts";
import {
  type Arrangement,
  addToSong,
  barsOf,
  barTicksOf,
  cellOf,
  changeCells,
  changePattern,
  cutInto,
  findSections,
  heardVoices,
  layOnCells,
  NO_ARRANGEMENT,
  profileOf,
  repeatInSong,
  SIDES,
  SongDesk,
  type SongPattern,
  samenessOf,
  songTime,
  songVoices,
  toggleEntry,
  toggleVoiceOfEntry,
  treatmentIn,
  turned,
  withoutFeel,
} from "./index.ts";

describe("laying a pattern", () => {
  it("of the whole take gives what treating the take gives", () => {
    const take = takeOf(6);
    const arrangement = cutAll(6);
    const { laid, maps } = laidOf(take, arrangement);
    const [pattern] = laid.values();
    for (const [lane, { voiceId, treatment }] of take.lanes.entries()) {
      const cleaned = treat(hitsByVoice(take.hits).get(voiceId)!, treatment, maps, take.lengthTicks, "snare");
      expect([...pattern!.voices[lane]!.cleaned.ticks]).toEqual([...cleaned.ticks]);
      expect([...pattern!.voices[lane]!.cleaned.velocities]).toEqual([...cleaned.velocities]);
    }
  });

  it("keeps a hit ahead of a bar line with the bar that it was played for", () => {
    const early = hitAt(2 * BAR - 11, { id: "early", voiceId: "kick" });
    const take = patternOf([hitAt(0, { voiceId: "kick" }), early, hitAt(2 * BAR + 480, { voiceId: "kick" })], {
      lengthTicks: 4 * BAR,
      lanes: [laneOf("kick", { isOn: true, strengthPercent: 50 })],
    });
    const arrangement = cutAll(4, 2);
    const { laid } = laidOf(take, arrangement);
    const [first, second] = [...laid.values()];
    expect([...first!.voices[0]!.rows]).toEqual([0]);
    expect([...second!.voices[0]!.rows]).toEqual([1, 2]);
    expect(second!.voices[0]!.slotTicks[0]).toBe(0);
    // Half-way to its slot it is still ahead of the bar line, and sounds there in the song.
    expect(second!.voices[0]!.cleaned.ticks[0]).toBe(-5);
    expect(second!.voices[0]!.recorded.ticks[0]).toBe(-11);
  });

  it("plays bars in any order, more than once, silent, and turned round", () => {
    const take = takeOf(4);
    const one: SongPattern = { id: "p", name: "P", colour: "moss", bars: [2, null, 2, 0] };
    const arrangement: Arrangement = { ...NO_ARRANGEMENT, patterns: [one] };
    const kick = (pattern: SongPattern) =>
      laidOf(take, { ...arrangement, patterns: [pattern] }).laid.get("p")!.voices[2]!;
    expect([...kick(one).slotTicks]).toEqual([0, 1200, 2 * BAR, 2 * BAR + 1200, 3 * BAR, 3 * BAR + 1200]);
    expect([...kick(one).rows]).toEqual([4, 5, 4, 5, 0, 1]);
    const round = { ...one, ...turned(one, 960, 4 * BAR) } as SongPattern;
    expect([...kick(round).slotTicks].sort((a, b) => a - b)).toEqual(
      [960, 2160, 2 * BAR + 960, 2 * BAR + 2160, 3 * BAR + 960, 240].sort((a, b) => a - b),
    );
    expect(turned(round, -960, 4 * BAR)).toEqual({ turnedTicks: undefined });
  });

  it("counts a groove of two bars from the pattern's first bar, wherever that is in the take", () => {
    const slots = Array.from({ length: 32 }, (_, slot) => ({
      offset: slot < 16 ? 0 : 0.2,
      accent: 1,
      hitCount: 1,
      spread: 0,
    }));
    const grid = { family: "straight", denominator: 16 } as const;
    const twoBars = { id: "two", name: "Two", lengthQuarters: 8, grid, layers: [{ family: null, slots }] };
    const take = takeOf(6);
    const whole = cutInto(NO_ARRANGEMENT, [{ name: "X", colour: "clay", firstBar: 1, endBar: 5 }], newId);
    const places = take.lanes.map(({ voiceId }) => ({ patternId: whole.patterns[0]!.id, voiceId }));
    const laidOn = layOnCells(whole, places, twoBars, { timingPercent: 100, accentPercent: 0 });
    const { laid } = laidOf(take, laidOn);
    const hat = [...laid.values()][0]!.voices[0]!;
    for (let at = 0; at < hat.rows.length; at++) {
      const moved = hat.cleaned.ticks[at]! - hat.plain.ticks[at]!;
      expect(Math.abs(moved - (Math.floor(hat.slotTicks[at]! / BAR) % 2 === 0 ? 0 : 24))).toBeLessThanOrEqual(1);
    }
  });

  it("takes a cell's steps in place of the lane's, and follows what it follows", () => {
    const take = takeOf(4);
    let arrangement = cutAll(4, 2);
    const [first, second] = arrangement.patterns.map(({ id }) => id);
    const snare = { patternId: first!, voiceId: "snare" };
    arrangement = changeCells(arrangement, [snare], () => ({ pushMs: 12 }));
    arrangement = changePattern(arrangement, second!, () => ({ followsId: first! }));
    arrangement = changePattern(arrangement, first!, () => ({ followsId: second! }));
    const of = (id: string) => arrangement.patterns.find((one) => one.id === id)!;
    expect(cellOf(arrangement, of(second!), "snare")).toEqual({ pushMs: 12 });
    const lane = take.lanes[1]!;
    const { settling, treatment } = treatmentIn(arrangement, of(second!), lane);
    // What settles the voice is the lane's own object, so that it is settled once for all patterns.
    expect(settling).toBe(lane.treatment);
    expect(treatment.timing.pushMs).toBe(12);
    expect(withoutFeel(treatment).timing.pushMs).toBe(0);
    expect(withoutFeel(lane.treatment)).toBe(lane.treatment);
    const { laid } = laidOf(take, arrangement);
    const moved = laid.get(second!)!.voices[1]!;
    expect(moved.cleaned.ticks[0]! - moved.plain.ticks[0]!).toBeCloseTo(12 / (500 / 480), -0.3);
    const back = changeCells(arrangement, [snare], () => ({ pushMs: undefined }));
    expect(back.patterns[0]).not.toHaveProperty("cells");
  });
});

describe("the song", () => {
  it("of a take cut anywhere sounds as the take, on every side", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 9 }), fc.integer({ min: 0, max: 1000 }), (every, seed) => {
        const take = takeOf(8, {}, seed);
        const arrangement = cutAll(8, every);
        const { laid, maps, bars } = laidOf(take, arrangement);
        const time = songTime(arrangement, bars, maps, take.tempos);
        expect(time.lengthTicks).toBe(take.lengthTicks);
        const parts = heardVoices(
          time,
          laid,
          take.lanes.map(({ voiceId }) => ({ voiceId, hits: [] })),
        );
        const whole = laidOf(take, cutAll(8)).laid.values().next().value!;
        for (const [lane, part] of parts.entries()) {
          for (const side of SIDES) {
            const sung = [...part.sides[side].ticks].map((tick, at) => [part.rows[at]!, tick]);
            const wanted = [...whole.voices[lane]!.rows].map((row, at) => [row, whole.voices[lane]![side].ticks[at]!]);
            expect(sung).toEqual(wanted);
          }
        }
      }),
      { numRuns: 20 },
    );
  });

  it("brings meters and tempos along with its bars", () => {
    const take = takeOf(4, {
      meters: [
        { tick: 0, numerator: 4, denominator: 4 },
        { tick: 2 * BAR, numerator: 7, denominator: 8 },
      ],
      tempos: [
        { tick: 0, usPerQuarter: 500_000 },
        { tick: BAR + 960, usPerQuarter: 400_000 },
        { tick: 2 * BAR, usPerQuarter: 600_000 },
      ],
      lengthTicks: 2 * BAR + 2 * 1680,
    });
    const bars: SongPattern = { id: "p", name: "P", colour: "moss", bars: [2, 1, 3, 0] };
    const arrangement = addToSong({ ...NO_ARRANGEMENT, patterns: [bars] }, "p", newId);
    const maps = buildTimeMaps(take);
    const takeBars = barsOf(take, maps);
    expect(takeBars).toHaveLength(4);
    const time = songTime(arrangement, takeBars, maps, take.tempos);
    expect([...barTicksOf(bars, takeBars)]).toEqual([0, 1680, 3600, 5280, 7200]);
    expect([0, 1, 2, 3].map((index) => barByIndex(time.maps.meterMap, index).startTick)).toEqual([0, 1680, 3600, 5280]);
    const lengthMs = (map: typeof maps, from: number, to: number) =>
      tickToMs(map.tempoMap, to) - tickToMs(map.tempoMap, from);
    for (const [index, bar] of [2, 1, 3, 0].entries()) {
      const { startTick, endTick } = takeBars[bar]!;
      const [from, to] = [barTicksOf(bars, takeBars)[index]!, barTicksOf(bars, takeBars)[index + 1]!];
      expect(lengthMs(time.maps, from, to)).toBeCloseTo(lengthMs(maps, startTick, endTick), 6);
    }
  });

  it("repeats entries, and leaves out what is muted", () => {
    const take = takeOf(4);
    let arrangement = cutAll(4, 2);
    const [first, second] = arrangement.song.map(({ id }) => id);
    arrangement = repeatInSong(arrangement, first!, 3);
    arrangement = toggleVoiceOfEntry(arrangement, first!, "hat");
    arrangement = toggleEntry(arrangement, second!);
    const { laid, maps, bars } = laidOf(take, arrangement);
    const time = songTime(arrangement, bars, maps, take.tempos);
    expect(time.lengthTicks).toBe(8 * BAR);
    const counts = heardVoices(
      time,
      laid,
      ["hat", "snare", "kick"].map((voiceId) => ({ voiceId, hits: [] })),
    ).map(({ rows }) => rows.length);
    expect(counts).toEqual([0, 12, 12]);
    const heard = toggleVoiceOfEntry(toggleEntry(arrangement, second!), first!, "hat");
    expect(heard.song).toEqual(
      repeatInSong(cutAll(4, 2), "none", 3).song.map((entry, index) => ({
        ...entry,
        id: heard.song[index]!.id,
        patternId: heard.song[index]!.patternId,
        repeats: index === 0 ? 3 : 1,
      })),
    );
  });

  it("says how far apart the feels of patterns are, and that treating brings them together", () => {
    const take = takeOf(16);
    const arrangement = cutAll(16, 4);
    const sameness = (of: Arrangement) => {
      const { laid, bars } = laidOf(take, of);
      return [0, 1, 2].map((lane) =>
        samenessOf(
          take.lanes[lane]!.voiceId,
          of.patterns.map((one) => profileOf(laid.get(one.id)!.voices[lane]!, barTicksOf(one, bars), 480)),
        ),
      );
    };
    const before = sameness(arrangement);
    // A spread of 9 ticks is 9.4 ms; of means of four hits half of it, of their differences √2 times that.
    expect(before[0]!.recorded!.ms).toBeGreaterThan(4.5);
    expect(before[0]!.recorded!.ms).toBeLessThan(9);
    expect(before[0]!.cleaned!.ms).toBeCloseTo(0.2 * before[0]!.recorded!.ms, 0);
    const pushed = changeCells(arrangement, [{ patternId: arrangement.patterns[0]!.id, voiceId: "snare" }], () => ({
      pushMs: 30,
    }));
    // Half of the pairs have the one that is pushed: 30 ms · √(1/2).
    expect(sameness(pushed)[1]!.cleaned!.ms).toBeGreaterThan(19);
    expect(sameness(pushed)[1]!.recorded).toEqual(before[1]!.recorded);
    expect(samenessOf("x", [])).toEqual({ voiceId: "x", recorded: null, cleaned: null });
  });
});

describe("finding sections", () => {
  it("finds what repeats, under any looseness, and names it alike", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 5000 }), (seed) => {
        const random = createRandom(seed);
        const verse = { hat: [0, 2, 4, 6, 8, 10, 12, 14], snare: [8], kick: [0, 3, 10] };
        const chorus = { ride: [0, 4, 8, 12], snare: [4, 12], kick: [0, 6, 8, 14] };
        const fill = { snare: [0, 1, 2, 3, 4, 5], "tom-2": [8, 9, 10, 11], kick: [0] };
        const four = (bar: object, last: object = bar) => [bar, bar, bar, last];
        const song = [...four(verse), ...four(verse, fill), ...four(chorus), ...four(chorus, fill)];
        const written = [...song, ...song] as Record<string, number[]>[];
        const hits = written.flatMap((bar, index) =>
          Object.entries(bar).flatMap(([voiceId, slots]) =>
            slots.flatMap((slot) =>
              random.uniform() < 0.03
                ? []
                : [
                    hitAt(Math.max(0, index * BAR + slot * 120 + Math.round(random.bell(12))), {
                      id: `${voiceId} ${index} ${slot}`,
                      voiceId,
                    }),
                  ],
            ),
          ),
        );
        const voiceIds = ["ride", "hat", "snare", "tom-2", "kick"];
        const take = patternOf(hits, { lengthTicks: 32 * BAR, lanes: voiceIds.map((voiceId) => laneOf(voiceId)) });
        const maps = buildTimeMaps(take);
        const bars = barsOf(take, maps);
        const found = findSections(songVoices(take, maps, bars), bars, 480);
        const shares = [...new SongDesk(take).seekSections()];
        expect(shares).toEqual(shares.toSorted((a, b) => a - b));
        expect([shares.length, shares.at(-1)]).toEqual([voiceIds.length + bars.length, 1]);
        expect(found.map(({ firstBar, endBar }) => [firstBar, endBar])).toEqual([
          [0, 8],
          [8, 16],
          [16, 24],
          [24, 32],
        ]);
        expect(found.map(({ part }) => part)).toEqual([0, 1, 0, 1]);
        expect(found.map(({ name }) => name)).toEqual(["Part A 1", "Part B 1", "Part A 2", "Part B 2"]);
      }),
      { numRuns: 15 },
    );
  });

  it("makes something of silence, of one bar, and of bars that are all different", () => {
    for (const bars of [1, 3, 40]) {
      const take = patternOf([], { lengthTicks: bars * BAR, lanes: [laneOf("snare")] });
      const maps = buildTimeMaps(take);
      const all = barsOf(take, maps);
      const found = findSections(songVoices(take, maps, all), all, 480);
      expect(found[0]!.firstBar).toBe(0);
      expect(found.at(-1)!.endBar).toBe(bars);
      for (const [index, { firstBar }] of found.entries()) expect(firstBar).toBe(found[index - 1]?.endBar ?? 0);
    }
  });
});

import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  applyEdit,
  editBetween,
  invertEdit,
  isEmptyEdit,
  type Pattern,
  StaleEditError,
  touchedBy,
  whenPlayed,
} from "../document/index.ts";
import { exportTake, importTake, readMarkers, readTones } from "../file/index.ts";
import { tabulateMessages } from "../messages/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { META, readMidiFile } from "../smf/index.ts";
import { buildTempoMap, tickToMs } from "../time/index.ts";
import { backToFileTime, type FoundTime, moveHitsBy, retime } from "./index.ts";

const bytes = new Uint8Array(readFileSync("demo/moth-parade.mid"));
const { pattern } = importTake(bytes, GENERAL_MIDI);
const { file } = readMidiFile(bytes);
/** A little slower from bar to bar, from half a bar before the file begins. */
const found: FoundTime = {
  playedTempos: Array.from({ length: 40 }, (_, bar) => ({
    tick: bar * 4 * pattern.ppq,
    usPerQuarter: 500_000 + 1500 * bar,
  })),
  startMs: -1000,
  meters: [{ tick: 0, numerator: 4, denominator: 4 }],
};
const timesOf = (one: Pattern) => {
  const msOf = whenPlayed(one);
  return new Map(one.hits.map((hit) => [hit.id, msOf(hit.pinnedTick ?? hit.recordedTick ?? 0)]));
};

describe("another time", () => {
  it("leaves every hit at the moment at which it was played, to half a tick", () => {
    const retimed = applyEdit(pattern, retime(pattern, found, null));
    const [before, after] = [timesOf(pattern), timesOf(retimed)];
    for (const [id, ms] of before) expect(Math.abs(after.get(id)! - ms)).toBeLessThan(0.7);
    expect(retimed.tempos).toEqual(found.playedTempos);
    expect(retimed.hits.every((hit) => hit.recordedTick! < retimed.lengthTicks)).toBe(true);
    expect(retimed.lengthTicks % (4 * pattern.ppq)).toBe(0);
  });

  it("is taken back whole, also with pins, changed messages and a time before it", () => {
    const pinned = applyEdit(
      pattern,
      moveHitsBy(pattern, [{ hit: pattern.hits[7]!, tick: pattern.hits[7]!.recordedTick! }], 31),
    );
    const [messageId] = Object.keys(pinned.changedMessages);
    expect(messageId).toBeUndefined();
    const changed = { ...pinned, changedMessages: { "0:1": { tick: 960, bytes: [77] }, "0:2": null } };
    for (const start of [pattern, pinned, changed]) {
      const edit = retime(start, found, null);
      const there = applyEdit(start, edit);
      expect(applyEdit(there, invertEdit(edit))).toEqual(start);
      const again = retime(there, { ...found, startMs: -400 }, 100);
      expect(applyEdit(applyEdit(there, again), invertEdit(again))).toEqual(there);
      expect(isEmptyEdit(edit)).toBe(false);
      expect(touchedBy(edit).areAllMoved).toBe(true);
    }
  });

  it("given back is that of the file, hit for hit", () => {
    const there = applyEdit(pattern, retime(pattern, found, 92));
    const back = applyEdit(there, backToFileTime(there)!);
    expect(back.hits).toEqual(pattern.hits);
    expect([back.meters, back.tempos, back.timeline]).toEqual([pattern.meters, pattern.tempos, undefined]);
    expect(backToFileTime(pattern)).toBeNull();
  });

  it("can be gone back from to a version on the time of the file, and on again", () => {
    const there = applyEdit(pattern, retime(pattern, found, null));
    expect(applyEdit(there, editBetween(there, pattern))).toEqual(pattern);
    expect(applyEdit(pattern, editBetween(pattern, there))).toEqual(there);
  });

  it("is refused on a take that is on another time already", () => {
    const edit = retime(pattern, found, null);
    const there = applyEdit(pattern, edit);
    expect(() => applyEdit(there, edit)).toThrow(StaleEditError);
  });

  it("goes out with the file, and everything in it stays at its moment, drums or not", () => {
    const there = applyEdit(pattern, retime(pattern, found, null));
    const out = readMidiFile(exportTake(bytes, there)).file;
    const ppqOf = (one: typeof out) => (one.division.kind === "ppq" ? one.division.ppq : Number.NaN);
    const tempos = out.tracks[0]!.messages.flatMap((message) =>
      message.kind === "meta" && message.metaType === META.tempo
        ? [{ tick: message.tick, usPerQuarter: (message.data[0]! << 16) | (message.data[1]! << 8) | message.data[2]! }]
        : [],
    );
    expect(tempos).toHaveLength(40);
    const outMap = buildTempoMap(ppqOf(out), tempos);
    const fileMap = buildTempoMap(pattern.ppq, pattern.tempos);
    const notes = (one: typeof out, msOf: (tick: number) => number) =>
      one.tracks
        .flatMap(({ messages }) => messages)
        .flatMap((message) =>
          message.kind === "channel" && message.status >> 4 === 9 && message.data2 > 0 ? [msOf(message.tick)] : [],
        )
        .sort((a, b) => a - b);
    const scale = pattern.ppq / ppqOf(file);
    const before = notes(file, (tick) => tickToMs(fileMap, tick * scale));
    const after = notes(out, (tick) => tickToMs(outMap, tick) + found.startMs);
    expect(after).toHaveLength(before.length);
    for (const [index, ms] of before.entries()) expect(Math.abs(after[index]! - ms)).toBeLessThan(1);
  });

  it("straightened, keeps the beats and changes the moments", () => {
    const followed = applyEdit(pattern, retime(pattern, found, null));
    const straight = applyEdit(pattern, retime(pattern, found, 120));
    expect(straight.hits.map((hit) => hit.recordedTick)).toEqual(followed.hits.map((hit) => hit.recordedTick));
    expect(straight.tempos).toEqual([{ tick: 0, usPerQuarter: 500_000 }]);
  });

  it("takes markers, other tracks and the list of messages along", () => {
    const there = applyEdit(pattern, retime(pattern, found, null));
    const [before, after] = [whenPlayed(pattern), whenPlayed(there)];
    const markers = readMarkers(file, pattern);
    for (const [index, marker] of readMarkers(file, there).entries()) {
      expect(Math.abs(after(marker.tick) - before(markers[index]!.tick))).toBeLessThan(0.7);
    }
    for (const streamIndex of pattern.streams.keys()) {
      const tones = readTones(file, pattern, streamIndex);
      for (const [index, tone] of readTones(file, there, streamIndex).entries()) {
        expect(Math.abs(after(tone.startTick) - before(tones[index]!.startTick))).toBeLessThan(0.7);
      }
    }
    // The take carries its own tempos and meters in place of those of the file; all else is there.
    const rest = (at: Pattern) => [...tabulateMessages(file, at).statuses].filter((status) => status !== 0xff).length;
    expect(rest(there)).toBe(rest(pattern));
  });

  it("keeps hits in order, whatever the tempos are", () => {
    const tempo = fc.integer({ min: 200_000, max: 1_500_000 });
    fc.assert(
      fc.property(
        fc.array(tempo, { minLength: 1, maxLength: 40 }),
        fc.integer({ min: -3000, max: 0 }),
        (list, startMs) => {
          const playedTempos = list.map((usPerQuarter, bar) => ({ tick: bar * 4 * pattern.ppq, usPerQuarter }));
          const edit = retime(pattern, { ...found, playedTempos, startMs }, null);
          const there = applyEdit(pattern, edit);
          const ticks = new Map(there.hits.map((hit) => [hit.id, hit.recordedTick!]));
          for (const [index, hit] of pattern.hits.entries()) {
            if (index > 0) expect(ticks.get(hit.id)!).toBeGreaterThanOrEqual(ticks.get(pattern.hits[index - 1]!.id)!);
          }
          expect(applyEdit(there, invertEdit(edit)).hits).toEqual(pattern.hits);
        },
      ),
      { numRuns: 12 },
    );
  });
});

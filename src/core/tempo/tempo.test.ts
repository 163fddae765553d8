import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Pattern } from "../document/index.ts";
import { importTake } from "../file/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { hitAt, patternOf } from "../testing/patterns.ts";
import { buildTempoMap, tickToMs } from "../time/index.ts";
import { chooseLevel } from "./choose-level.ts";
import {
  barLengths,
  countedAs,
  findBeats,
  periodOfTaps,
  smoothBeats,
  strokesOf,
  studyTempo,
  timeOfBeats,
} from "./index.ts";

/** At 120 bpm and 480 ticks a quarter, a tick of the file lasts 500 / 480 ms. */
const tickOf = (ms: number) => Math.round((ms * 480) / 500);

/** Kick on one and three, snare on two and four, hats in eighths, at beats that come when they are told to. */
function beatTake(beatsMs: readonly number[], [one, three] = [120, 90]): Pattern {
  const hits = beatsMs.flatMap((ms, beat) => {
    const next = beatsMs[beat + 1] ?? ms + (ms - (beatsMs[beat - 1] ?? ms - 500));
    const half = tickOf((ms + next) / 2);
    const drum =
      beat % 2 === 0
        ? hitAt(tickOf(ms), {
            id: `k${beat}`,
            voiceId: "kick",
            articulationId: "main",
            recordedVelocity: beat % 4 === 0 ? one! : three!,
          })
        : hitAt(tickOf(ms), { id: `s${beat}`, recordedVelocity: 110 });
    const hats = [tickOf(ms), half].map((tick, index) =>
      hitAt(tick, {
        id: `h${beat}.${index}`,
        voiceId: "hat",
        articulationId: "closed",
        recordedVelocity: 70 - 20 * index,
      }),
    );
    return [drum, ...hats];
  });
  return patternOf(hits, { lengthTicks: tickOf(beatsMs.at(-1)! + 4000) });
}

const swaying = (count: number, meanMs: number, share: number) => {
  const beats = [900];
  for (let beat = 0; beat < count - 1; beat++) {
    beats.push(beats.at(-1)! + meanMs * (1 + share * Math.sin((2 * Math.PI * beat) / 32)));
  }
  return beats;
};

describe("the beats of a take", () => {
  it("are found although the tempo goes up and down", () => {
    const beats = swaying(96, 620, 0.06);
    const study = studyTempo(beatTake(beats));
    expect(study).toMatchObject({ verdict: "free", beatsPerBar: 4, beatUnit: "quarter" });
    for (const ms of beats) {
      const nearest = study.beatsMs.reduce((best, found) =>
        Math.abs(found - ms) < Math.abs(best - ms) ? found : best,
      );
      expect(Math.abs(nearest - ms)).toBeLessThan(20);
    }
    expect(study.slowestBpm).toBeLessThan(94);
    expect(study.fastestBpm).toBeGreaterThan(99);
    const first = study.beatsMs[study.firstDownbeat]!;
    expect(beats.some((ms, beat) => beat % 4 === 0 && Math.abs(ms - first) < 20)).toBe(true);
  });

  it.each([57, 63, 148, 172, 188])("are neither halved nor doubled: %i bpm in eighths", (bpm) => {
    const study = studyTempo(beatTake(swaying(64, 60_000 / bpm, 0.02)));
    expect(study.bpm / bpm).toBeCloseTo(1, 1);
    expect(study).toMatchObject({ beatsPerBar: 4, beatUnit: "quarter" });
  });

  it("stay those of a half-time part, whose snare is on three", () => {
    const beats = swaying(96, 60_000 / 112, 0.02);
    const pattern = beatTake(beats);
    const hits = pattern.hits.filter(
      ({ id }) => !id.startsWith("s") && !(id.startsWith("k") && Number(id.slice(1)) % 4 === 2),
    );
    const onThree = hits.flatMap((hit) =>
      hit.id.startsWith("k")
        ? [hitAt(tickOf(beats[Number(hit.id.slice(1)) + 2]!), { id: `s${hit.id}`, recordedVelocity: 110 })]
        : [],
    );
    expect(studyTempo({ ...pattern, hits: [...hits, ...onThree] }).bpm).toBeCloseTo(112, -1);
  });

  type Figure = Readonly<Record<string, readonly number[]>>;
  /** Strokes at places of a bar of sixteenths, some figures for eight bars each, at beats that sway. */
  function sixteenths(bpm: number, figures: readonly Figure[], bars = 32): Pattern {
    const beats = swaying(4 * bars + 1, 60_000 / bpm, 0.04);
    const msAt = (step: number) => {
      const [before, after] = [beats[Math.floor(step / 4)]!, beats[Math.floor(step / 4) + 1]!];
      return before + ((step % 4) / 4) * (after - before);
    };
    const hits = Array.from({ length: bars }, (_, bar) =>
      Object.entries(figures[Math.floor(bar / 8) % figures.length]!).flatMap(([voiceId, steps]) =>
        steps.map((step) => {
          const tick = tickOf(msAt(16 * bar + step));
          const recordedVelocity = voiceId === "snare" || step % 4 === 0 ? 114 : 84;
          return hitAt(tick, { id: `${voiceId} ${bar}.${step}`, voiceId, articulationId: "main", recordedVelocity });
        }),
      ),
    ).flat();
    return patternOf(hits, { lengthTicks: tickOf(beats.at(-1)!) });
  }
  const every = (step: number) => Array.from({ length: 16 / step }, (_, index) => index * step);

  it("are fast ones where a crash keeps time as hats do elsewhere, over feet in sixteenths", () => {
    const hard = { crash: every(4), kick: every(1), snare: [4, 12] };
    const light = { ride: every(2), kick: [0, 1, 3, 4, 5, 7, 8, 9, 11, 12, 13, 15], snare: [4, 12] };
    const study = studyTempo(sixteenths(158, [hard, light]));
    expect(study.bpm).toBeGreaterThan(145);
    expect(study.beatsPerBar).toBe(4);
  });

  it("make bars of four where a figure of half time takes two of them", () => {
    const { beatsPerBar } = studyTempo(sixteenths(75, [{ hat: every(1), kick: [0, 6, 10], snare: [8] }]));
    expect(beatsPerBar).toBe(4);
  });

  /** Strokes at places of bars of three, in beats: those of the snare soft, and the hats by the pedal. */
  function waltz(bpm: number, figure: Figure, bars = 24): Pattern {
    const beats = swaying(3 * bars + 1, 60_000 / bpm, 0.03);
    const hits = Array.from({ length: bars }, (_, bar) =>
      Object.entries(figure).flatMap(([voiceId, places]) =>
        places.map((place) => {
          const beat = 3 * bar + Math.floor(place);
          const ms = beats[beat]! + (place % 1) * (beats[beat + 1]! - beats[beat]!);
          const recordedVelocity = voiceId === "snare" ? 35 : place === 0 ? 110 : 75;
          const articulationId = voiceId === "hat" ? "foot" : "main";
          return hitAt(tickOf(ms), { id: `${voiceId} ${bar}.${place}`, voiceId, articulationId, recordedVelocity });
        }),
      ),
    ).flat();
    return patternOf(hits, { lengthTicks: tickOf(beats.at(-1)!) });
  }

  it("are three of a fast waltz, and not one for each of its bars", () => {
    const { bpm, beatsPerBar } = studyTempo(waltz(140, { ride: [0, 1, 2], hat: [1, 2], kick: [0], snare: [1] }));
    expect(Math.abs(bpm - 140)).toBeLessThan(5);
    expect(beatsPerBar).toBe(3);
  });

  it("are those of a waltz whose eighths swing, and not half as many of threes", () => {
    const swung = { ride: [0, 1, 1.64, 2], hat: [1, 2], kick: [0, 2.64], snare: [0.64, 2.64] };
    for (const bpm of [96, 150]) {
      const study = studyTempo(waltz(bpm, swung));
      expect(Math.abs(study.bpm - bpm), `${bpm}`).toBeLessThan(5);
      expect(study.beatsPerBar, `${bpm}`).toBe(3);
    }
  });

  it("are not the off-beats, where a heavy swing has made those look stronger", () => {
    const beats = swaying(96, 60_000 / 85, 0.02);
    const strokes = strokesOf(beatTake(beats));
    const offBeats = Float64Array.from(beats.slice(0, -1), (ms, beat) => (ms + beats[beat + 1]!) / 2);
    const found = chooseLevel(offBeats, strokes);
    expect(beats.slice(1, -1).every((ms) => [...found].some((one) => Math.abs(one - ms) < 20))).toBe(true);
    // And what was found as it is meant stays.
    expect(chooseLevel(Float64Array.from(beats), strokes)).toEqual(Float64Array.from(beats));
  });

  it("make bars that begin where the playing does, if other beats are as strong", () => {
    const beats = swaying(96, 620, 0.06);
    const study = studyTempo(beatTake(beats, [100, 108]));
    expect(Math.abs(study.beatsMs[study.firstDownbeat]! - beats[0]!)).toBeLessThan(20);
  });

  it("are steady where a click was played to that the file does not know", () => {
    const study = studyTempo(beatTake(swaying(64, 625, 0)));
    expect(study.verdict).toBe("steady");
    expect(study.bpm).toBeCloseTo(96, 1);
    const time = timeOfBeats(study, 480, 900, true);
    // The first bar takes up what the first stroke is ahead of it.
    expect(time.playedTempos.length).toBeLessThanOrEqual(2);
    expect(60_000_000 / time.playedTempos.at(-1)!.usPerQuarter).toBeCloseTo(96, 1);
    expect(time.startMs).toBeLessThanOrEqual(900);
  });

  it("are not taken for those of the file by chance: at 80, beats last three eighths of a file at 120", () => {
    const study = studyTempo(beatTake(swaying(64, 750, 0)));
    expect(study.verdict).toBe("steady");
    expect(study.bpm).toBeCloseTo(80, 1);
  });

  it("are those of the file where it was played to its click", () => {
    const kettle = importTake(new Uint8Array(readFileSync("demo/ferry-lights.mid")), GENERAL_MIDI).pattern;
    expect(studyTempo(kettle).verdict).toBe("click");
  });

  it("are counted as they were tapped", () => {
    const pattern = beatTake(swaying(64, 620, 0.02));
    const halves = studyTempo(pattern, { periodMs: 310 });
    expect(halves.bpm / studyTempo(pattern).bpm).toBeCloseTo(2, 1);
    expect(halves).toMatchObject({ beatsPerBar: 4, beatUnit: "quarter" });
    expect(periodOfTaps([0, 500, 1010, 1490, 2000])).toBe(510);
    expect(periodOfTaps([0, 500])).toBeUndefined();
  });

  it("are eighths where a bar has seven that are so fast", () => {
    const drums = [["kick", "main"], [], ["snare", "centre"], [], ["kick", "main"], ["snare", "centre"], []] as const;
    const hits = Array.from({ length: 16 * 7 }, (_, beat) => {
      const [voiceId, articulationId] = drums[beat % 7]!;
      const tick = tickOf(900 + 290 * beat);
      const hat = hitAt(tick, { id: `h${beat}`, voiceId: "hat", articulationId: "closed", recordedVelocity: 60 });
      return voiceId ? [hat, hitAt(tick, { id: `${beat}`, voiceId, articulationId, recordedVelocity: 110 })] : [hat];
    }).flat();
    const study = studyTempo(patternOf(hits, { lengthTicks: tickOf(40_000) }), { periodMs: 290 });
    expect(study).toMatchObject({ beatsPerBar: 7, beatUnit: "eighth" });
  });

  it("are moved where a person has put them, and bars are counted as they are told to be", () => {
    const pattern = beatTake(swaying(64, 620, 0.02));
    const found = studyTempo(pattern);
    const moved = countedAs(found, { shiftsMs: { 8: 25 }, beatsPerBar: 3, firstDownbeat: 1, beatUnit: "dotted" });
    expect(moved.beatsMs[8]! - found.beatsMs[8]!).toBeCloseTo(25);
    expect(moved.beatsMs[9]! - found.beatsMs[9]!).toBe(0);
    // A beat that is put far behind the next takes it along, and they stay in order.
    const far = countedAs(found, { shiftsMs: { 8: 5000 } }).beatsMs;
    for (let beat = 1; beat < far.length; beat++) expect(far[beat]!).toBeGreaterThan(far[beat - 1]!);
    expect(timeOfBeats(moved, 480, 900).meters).toEqual([{ tick: 0, numerator: 9, denominator: 8 }]);
  });

  it("are none where there is nothing to hear them in, and no take makes it stumble", () => {
    expect(studyTempo(patternOf([])).verdict).toBe("none");
    expect(studyTempo(patternOf([hitAt(5)])).verdict).toBe("none");
    expect(
      studyTempo(patternOf(Array.from({ length: 40 }, (_, index) => hitAt(480, { id: `${index}` })))).verdict,
    ).toBe("none");
    fc.assert(
      fc.property(fc.array(fc.nat(30_000), { maxLength: 60 }), fc.nat(100), (ticks, stiffness) => {
        const pattern = patternOf(
          ticks.toSorted((a, b) => a - b).map((tick, index) => hitAt(tick, { id: `${index}` })),
          { lengthTicks: 30_720 },
        );
        const study = studyTempo(pattern, { stiffness });
        for (let beat = 1; beat < study.beatsMs.length; beat++) {
          expect(study.beatsMs[beat]!).toBeGreaterThan(study.beatsMs[beat - 1]!);
        }
      }),
      { numRuns: 40 },
    );
  });
});

describe("evenness", () => {
  it("follows every stroke at 0, and at 100 keeps the tempo all but steady", () => {
    const beats = swaying(64, 620, 0.05);
    const strokes = strokesOf(beatTake(beats));
    const raw = findBeats(strokes);
    const spread = (stiffness: number) => {
      const smooth = smoothBeats(raw, strokes, stiffness);
      const lengths = [...smooth.slice(1)].map((ms, beat) => ms - smooth[beat]!);
      return Math.max(...lengths) - Math.min(...lengths);
    };
    expect(spread(0)).toBeGreaterThan(50);
    expect(spread(100)).toBeLessThan(spread(50));
  });
});

describe("the time of beats", () => {
  it("has a tempo a bar that leads from bar line to bar line, and nothing before the first bar", () => {
    const study = studyTempo(beatTake(swaying(96, 620, 0.06)));
    const { playedTempos, startMs } = timeOfBeats(study, 480, 900);
    const map = buildTempoMap(480, playedTempos);
    expect(startMs).toBeLessThanOrEqual(900);
    const lines = [...study.beatsMs].filter((_, beat) => beat % 4 === study.firstDownbeat);
    for (const line of lines.slice(1, -1)) {
      const bars = lines.filter((ms) => ms < line).length;
      const nearest = [bars - 2, bars - 1, bars, bars + 1, bars + 2]
        .map((bar) => tickToMs(map, bar * 1920) + startMs)
        .reduce((best, ms) => (Math.abs(ms - line) < Math.abs(best - line) ? ms : best));
      expect(Math.abs(nearest - line)).toBeLessThan(0.01);
    }
    expect(barLengths(study.beatsMs, study).length).toBeGreaterThan(20);
  });
});

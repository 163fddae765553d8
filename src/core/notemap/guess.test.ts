import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { type Habits, perform } from "../../standin/perform.ts";
import { createRandom } from "../../standin/random.ts";
import { drawUpPart, STYLES } from "../../standin/styles.ts";
import { meaningOf, type Pattern, type Voice } from "../document/index.ts";
import { importTake } from "../file/index.ts";
import { readMidiFile, writeMidiFile } from "../smf/index.ts";
import { hitAt, patternOf } from "../testing/patterns.ts";
import { buildTimeMaps } from "../time/index.ts";
import {
  checkMap,
  findDoubts,
  GENERAL_MIDI,
  type Guess,
  guessedName,
  guessNotes,
  otherGuess,
  withGuesses,
} from "./index.ts";

const HABITS: Habits = {
  ppq: 480,
  voices: { any: { biasMs: 3, spreadMs: 10 }, snare: { biasMs: 12, spreadMs: 10 }, hat: { biasMs: -6, spreadMs: 8 } },
  wanderMs: 3,
  velocities: { ghost: { mean: 36, spread: 7 }, stroke: { mean: 80, spread: 9 }, accent: { mean: 110, spread: 7 } },
  doubleTriggerShare: 0.02,
  graceMs: 28,
};

/** Plays a drawn-up part, and sends every drum on another note. Returns the guesses with what is true. */
function scrambledTake(style: string, seed: number): { guess: Guess; truth: string }[] {
  const random = createRandom(seed);
  const { file } = perform(drawUpPart(STYLES[style]!, random), HABITS, random);
  const notes = Array.from({ length: 128 }, (_, note) => note);
  for (let at = notes.length - 1; at > 0; at--) {
    const other = Math.floor(random.uniform() * (at + 1));
    [notes[at], notes[other]] = [notes[other]!, notes[at]!];
  }
  const tracks = file.tracks.map(({ messages }) => ({
    messages: messages.map((one) =>
      one.kind === "channel" && one.status >> 4 <= 9 ? { ...one, data1: notes[one.data1]! } : one,
    ),
  }));
  const { pattern } = importTake(writeMidiFile({ ...file, tracks }), GENERAL_MIDI);
  return guessNotes(pattern.hits, buildTimeMaps(pattern)).map((guess) => {
    const { voiceId, articulationId } = meaningOf(GENERAL_MIDI, {
      note: notes.indexOf(guess.note),
      channel: 9,
      pedal: null,
    });
    return { guess, truth: `${voiceId}/${articulationId}` };
  });
}

const nameOf = ({ meaning }: Guess) => `${meaning.voiceId}/${meaning.articulationId}`;

describe("guessing drums from how they are played", () => {
  const takes = Object.keys(STYLES).flatMap((style) => [31, 32, 33, 34, 35].map((seed) => scrambledTake(style, seed)));
  const asked = takes.flat().filter(({ truth }) => /^(kick|snare|hat|ride|crash)/.test(truth));

  it("gets at least 90 % of kick, snare, hats, ride and crash right, in 40 scrambled takes of eight styles", () => {
    expect(takes).toHaveLength(40);
    expect(asked.length).toBeGreaterThan(240);
    expect(asked.filter(({ guess, truth }) => nameOf(guess) === truth).length / asked.length).toBeGreaterThanOrEqual(
      0.9,
    );
  });

  it("is right where it is sure", () => {
    const sure = takes.flat().filter(({ guess }) => guess.confidence >= 0.9);
    expect(sure.length).toBeGreaterThan(100);
    expect(sure.filter(({ guess, truth }) => nameOf(guess) === truth).length / sure.length).toBeGreaterThanOrEqual(
      0.97,
    );
  });

  it("gives its reasons in words", () => {
    const snare = takes[0]!.find(({ truth }) => truth === "snare/centre")!;
    const kick = takes[0]!.find(({ truth }) => truth === "kick/main")!;
    expect(snare.guess.reason).toMatch(/^on 2 and 4, .*never with note \d+$/);
    expect(kick.guess.reason).toContain("on 1");
    for (const { guess } of takes.flat()) {
      expect(guess.reason).not.toBe("");
      expect(guess.confidence).toBeGreaterThanOrEqual(0);
      expect(guess.confidence).toBeLessThan(1);
    }
  });

  const guess = (pattern: Pattern) => guessNotes(pattern.hits, buildTimeMaps(pattern));

  it("is not sure of a note with one hit, and stands an empty take", () => {
    expect(guess(patternOf([]))).toEqual([]);
    const [only] = guess(patternOf([hitAt(0)]));
    expect(only!.confidence).toBeLessThan(0.7);
  });

  it("asks which of hats and ride keeps time where nothing but a rim, taken for a foot, would tell", () => {
    const [TIME, KICK, RIM, SNARE, TOM] = [60, 61, 62, 63, 64];
    const strokes = Array.from(
      { length: 12 },
      (_, bar): readonly (readonly [tick: number, note: number, velocity: number])[] => {
        const start = bar * 1920;
        const isFill = bar % 4 === 3;
        const steps = (count: number, apart: number) => Array.from({ length: count }, (_, step) => step * apart);
        return [
          ...steps(isFill ? 4 : 8, 240).map((tick) => [start + tick, TIME, tick % 480 === 0 ? 84 : 62] as const),
          ...[0, 360, 480, 840, ...(isFill ? [] : [960, 1320, 1440, 1800])].map(
            (tick) => [start + tick, KICK, 96] as const,
          ),
          ...[0, 720, ...(isFill ? [] : [1440])].map((tick) => [start + tick, RIM, 60] as const),
          ...(isFill ? [960, 1200, 1440, 1680].map((tick) => [start + tick, SNARE, 100] as const) : []),
          ...(isFill ? [1040, 1280, 1520, 1760].map((tick) => [start + tick, TOM, 90] as const) : []),
        ];
      },
    ).flat();
    const hits = strokes
      .toSorted(([one], [other]) => one - other)
      .map(([tick, note, velocity], index) => hitAt(tick, { id: `${index}`, note, recordedVelocity: velocity }));
    const time = guess(patternOf(hits)).find(({ note }) => note === TIME)!;
    expect([nameOf(time), time.otherMeaning && nameOf({ ...time, meaning: time.otherMeaning })].toSorted()).toEqual([
      "hat/closed",
      "ride/bow",
    ]);
    expect(time.confidence).toBeLessThan(0.6);
  });

  const demo = (slug: string) => importTake(new Uint8Array(readFileSync(`demo/${slug}.mid`)), GENERAL_MIDI).pattern;
  const DEMOS = ["ferry-lights", "tin-orchard", "kettle-row", "moth-parade", "slack-water"];

  it("asks whether what is on two and four alone, softer than the ride, is a snare or the foot on the hats", () => {
    const [ride, foot, kick, rare] = [70, 71, 72, 73];
    const take = (footVelocity: number) =>
      patternOf(
        Array.from({ length: 12 }, (_, bar) => bar * 1920)
          .flatMap((start, bar) => [
            ...[0, 480, 800, 960, 1440, 1760].map(
              (tick) => [ride, start + tick, tick % 960 === 480 ? 92 : 70] as const,
            ),
            ...[480, 1440].map((tick) => [foot, start + tick, footVelocity] as const),
            ...[0, 480, 960, 1440].map((tick) => [kick, start + tick, 36] as const),
            ...(bar % 3 === 1 ? [[rare, start + 800, 60] as const] : []),
          ])
          .toSorted((a, b) => a[1] - b[1])
          .map(([note, tick, velocity]) => hitAt(tick, { note, recordedVelocity: velocity })),
      );
    const guessOf = (velocity: number) => {
      const pattern = take(velocity);
      return guessNotes(pattern.hits, buildTimeMaps(pattern)).find(({ note }) => note === foot)!;
    };
    const soft = guessOf(70);
    expect([nameOf(soft), soft.confidence < 0.6, nameOf(otherGuess(soft))]).toEqual(["snare/centre", true, "hat/foot"]);
    const loud = guessOf(112);
    expect([nameOf(loud), loud.confidence > 0.8, loud.otherMeaning]).toEqual(["snare/centre", true, null]);
  });

  it("knows the pad that gives all hats by its pedal, and splits it", () => {
    const deck = demo("slack-water-deck-kit");
    const pad = guess(deck).find(({ isSplitByPedal }) => isSplitByPedal)!;
    expect(pad).toMatchObject({ note: 26, meaning: { voiceId: "hat" }, reason: expect.stringContaining("pedal") });
    const named = withGuesses(GENERAL_MIDI, [pad]);
    const stroke = (pedal: number) => meaningOf(named, { note: 26, channel: 9, pedal }).articulationId;
    expect([stroke(5), stroke(60), stroke(118)]).toEqual(["open", "half-open", "closed"]);
    for (const slug of DEMOS) expect(guess(demo(slug)).some(({ isSplitByPedal }) => isSplitByPedal)).toBe(false);
  });

  it("adds the drums and strokes that a map does not have, and finds one of another id by its name", () => {
    const empty = { ...GENERAL_MIDI, voices: [], entries: [], outgoing: [] };
    const guesses = guess(demo("slack-water-deck-kit"));
    const full = withGuesses(empty, guesses);
    expect(() => checkMap(full)).not.toThrow();
    const usualOrder = GENERAL_MIDI.voices.map(({ id }) => id);
    const places = full.voices.map(({ id }) => usualOrder.indexOf(id));
    expect(places).toEqual(places.toSorted((a, b) => a - b));
    expect(guesses.map(({ note }) => full.entries.some((entry) => entry.note === note))).not.toContain(false);
    const hat = { voiceId: "hat", articulationId: "open" };
    expect([guessedName(empty, hat), guessedName(GENERAL_MIDI, hat)]).toEqual(["Hi-hat, open", "Hi-hat, open"]);

    const voice = (articulations: Voice["articulations"]) =>
      ({ id: "v1", name: "hi-hat", family: "hats", ink: "hats", articulations }) as const;
    const own = { ...empty, voices: [voice([{ id: "tight", name: "Closed", mark: "none" }])] };
    const as = (articulationId: string, note: number): Guess => ({
      ...guesses[0]!,
      note,
      isSplitByPedal: false,
      meaning: { voiceId: "hat", articulationId },
    });
    const named = withGuesses(own, [as("closed", 8), as("open", 9)]);
    expect(named.entries.map(({ note, voiceId, articulationId }) => [note, voiceId, articulationId])).toEqual([
      [8, "v1", "tight"],
      [9, "v1", "open"],
    ]);
    expect(named.voices).toHaveLength(1);
    expect(() => checkMap(named)).not.toThrow();
    expect(withGuesses(GENERAL_MIDI, guesses).voices.map(({ id }) => id)).toEqual(
      GENERAL_MIDI.voices.map(({ id }) => id),
    );
  });

  it("doubts also drums by name where the map is that of another kit, and offers hats or ride where nothing tells them apart", () => {
    // The kit sends snare on the number of a tom, kick on that of a crash, hats on that of a snare.
    const sent: Readonly<Record<number, number>> = { 36: 49, 38: 45, 42: 38, 51: 36 };
    const file = readMidiFile(new Uint8Array(readFileSync("demo/ferry-lights.mid"))).file;
    const tracks = file.tracks.map(({ messages }) => ({
      messages: messages.map((one) =>
        one.kind === "channel" && one.status >> 4 <= 9 ? { ...one, data1: sent[one.data1] ?? one.data1 } : one,
      ),
    }));
    const { pattern } = importTake(writeMidiFile({ ...file, tracks }), GENERAL_MIDI);
    const doubts = findDoubts(GENERAL_MIDI, pattern.hits, guess(pattern));
    const said = doubts.map(({ note, meaning }) => `${note} ${meaning.voiceId}`);
    expect(said).toEqual(expect.arrayContaining(["49 kick", "45 snare"]));
    // An open hat in its place says which of the two that keep time it is; without one, and without a foot, nothing does.
    expect(guess(pattern).find(({ note }) => note === 38)).toMatchObject({
      meaning: { voiceId: "hat" },
      otherMeaning: null,
    });
    const bars = Array.from({ length: 8 }, (_, bar) => bar * 1920);
    const struck = (note: number, steps: readonly number[]) =>
      bars.flatMap((start) => steps.map((step) => hitAt(start + step * 240, { id: `${note} ${start} ${step}`, note })));
    const plain = [...struck(70, [0, 4, 5]), ...struck(71, [2, 6]), ...struck(72, [0, 1, 2, 3, 4, 5, 6, 7])];
    const time = guess(patternOf(plain.toSorted((a, b) => a.recordedTick! - b.recordedTick!))).find(
      ({ note }) => note === 72,
    )!;
    expect([time.meaning.voiceId, time.otherMeaning?.voiceId]).toEqual(["hat", "ride"]);
    expect(time.confidence).toBeLessThan(0.6);
    expect(otherGuess(time).meaning).toEqual(time.otherMeaning);
  });

  it("takes a few strokes on a note that no kit has for a rim of it, and leaves what is often beside a kit", () => {
    const kit = (oddNote: number, oddHits: number) => {
      const beats = Array.from({ length: 32 }, (_, beat) =>
        hitAt(beat * 960, { id: `k ${beat}`, note: 36, voiceId: "kick" }),
      );
      const backs = Array.from({ length: 32 }, (_, beat) =>
        hitAt(beat * 960 + 480, { id: `s ${beat}`, note: 38, voiceId: "snare" }),
      );
      const hats = Array.from({ length: 128 }, (_, at) => hitAt(at * 240, { id: `h ${at}`, note: 42, voiceId: "hat" }));
      const { voiceId } = meaningOf(GENERAL_MIDI, { note: oddNote, channel: 9, pedal: null });
      const odd = Array.from({ length: oddHits }, (_, at) =>
        hitAt(at * 3840 + 1440, { id: `o ${at}`, note: oddNote, voiceId }),
      );
      const hits = [...beats, ...backs, ...hats, ...odd].toSorted((a, b) => a.recordedTick! - b.recordedTick!);
      return findDoubts(GENERAL_MIDI, hits, guess(patternOf(hits))).find(({ note }) => note === oddNote);
    };
    expect(kit(73, 3)).toMatchObject({
      meaning: { voiceId: "snare", articulationId: "rim-shot" },
      reason: "3 hits in a drum kit, where the map says Guiro",
    });
    expect(kit(73, 3)!.confidence).toBeLessThan(0.6);
    expect(kit(56, 3)?.meaning.articulationId).not.toBe("rim-shot");
    expect(kit(73, 40)?.meaning.articulationId).not.toBe("rim-shot");
  });

  it("doubts names of percussion that is played as a drum kit, and no others", () => {
    const deck = demo("slack-water-deck-kit");
    const doubts = findDoubts(GENERAL_MIDI, deck.hits, guess(deck));
    const said = doubts.map(({ note, meaning }) => `${note} ${meaning.voiceId}`);
    expect(said).toEqual(expect.arrayContaining(["72 ride", "31 snare", "80 crash"]));
    for (const slug of DEMOS) {
      const take = demo(slug);
      expect(findDoubts(GENERAL_MIDI, take.hits, guess(take))).toEqual([]);
    }
  });
});

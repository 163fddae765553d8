import fc from "fast-check";
import { type Arrangement, PATTERN_COLOURS } from "../document/arrangement.ts";
import {
  ALWAYS,
  applyEdit,
  compareHits,
  EDIT_KINDS,
  type Edit,
  editBetween,
  type Groove,
  type Hit,
  hitsOnTimeline,
  type Lane,
  type Pattern,
  ROLES,
  sideOfNow,
  USUAL_DYNAMICS,
} from "../document/index.ts";
import { turnSides } from "../document/other-side.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { hitAt, laneOf, patternOf } from "./patterns.ts";

// States of one take, drawn at random: whatever two of them differ in, some kind of edit leads from one to the other.

const TICKS = [0, 120, 245, 480, 700, 960];
const VOICES = ["snare", "kick", "hat"] as const;
const chance = fc.constantFrom(false, false, true);
const maybe = <Value>(value: fc.Arbitrary<Value>) => fc.option(value, { freq: 2 });

const hit = (tick: number): fc.Arbitrary<Hit> =>
  fc
    .record({
      voiceId: fc.constantFrom(...VOICES),
      pinnedTick: maybe(fc.integer({ min: 0, max: 7679 })),
      pinnedVelocity: maybe(fc.integer({ min: 1, max: 127 })),
      isMuted: chance,
      lengthTicks: maybe(fc.integer({ min: 1, max: 2000 })),
      role: maybe(fc.constantFrom(...ROLES)),
      swingSharePercent: maybe(fc.integer({ min: 0, max: 100 })),
      chance: maybe(fc.constantFrom({ ...ALWAYS, chancePercent: 60 }, { ...ALWAYS, fromPercent: 40 })),
      deviationPercent: maybe(fc.integer({ min: 0, max: 200 })),
      offsetMs: maybe(fc.integer({ min: -50, max: 50 })),
      pass: maybe(fc.integer({ min: 1, max: 3 })),
      replacedBy: maybe(fc.integer({ min: 2, max: 4 })),
    })
    .map(({ isMuted, voiceId, pinnedTick, pinnedVelocity, ...optional }) => {
      const own = Object.fromEntries(Object.entries(optional).filter(([, value]) => value !== null));
      return hitAt(tick, { voiceId, pinnedTick, pinnedVelocity, ...(isMuted ? { isMuted } : {}), ...own });
    });

/** Each state lacks some of the hits that others have. What was recorded is the same in all of them. */
const hits = fc
  .tuple(fc.tuple(...TICKS.map(hit)), fc.tuple(...TICKS.map(() => fc.boolean())))
  .map(([all, areThere]) => all.filter((_, row) => areThere[row]));

const groove: Groove = {
  id: "g",
  name: "Lean",
  lengthQuarters: 4,
  grid: { family: "straight", denominator: 8 },
  layers: [{ family: null, slots: [{ offset: 0.1, accent: 1, hitCount: 3, spread: 0 }] }],
};

const lane = (voiceId: string): fc.Arbitrary<Lane> =>
  fc
    .record({
      strengthPercent: fc.integer({ min: 0, max: 100 }),
      isOn: fc.boolean(),
      isLate: chance,
      leftOut: fc.subarray(TICKS.slice(0, 3).map((tick) => `0:${tick}`)),
      dynamics: chance,
      feel: chance,
    })
    .map(({ strengthPercent, isOn, isLate, leftOut, dynamics, feel }) => {
      const late = isLate ? ({ latencyMs: 12, latencyStays: true } as const) : {};
      const { treatment } = laneOf(voiceId, { strengthPercent, isOn, ...late });
      return {
        voiceId,
        treatment: {
          ...treatment,
          ...(leftOut.length > 0 ? { repair: { leftOut } } : {}),
          ...(dynamics ? { dynamics: { ...USUAL_DYNAMICS, isOn: true } } : {}),
          ...(feel ? { feel: { isOn: true, groove, timingPercent: 50, accentPercent: 0 } } : {}),
        },
      };
    });
const lanes = fc
  .tuple(fc.tuple(...VOICES.map(lane)), fc.shuffledSubarray([0, 1, 2]))
  .map(([all, order]) => order.map((index) => all[index]!));

const arrangement: fc.Arbitrary<Arrangement> = fc
  .record({
    names: fc.uniqueArray(fc.constantFrom("Verse", "Chorus", "Bridge"), { minLength: 1 }),
    repeats: fc.integer({ min: 1, max: 4 }),
    hasFeel: fc.boolean(),
  })
  .map(({ names, repeats, hasFeel }) => ({
    patterns: names.map((name, index) => ({
      id: name,
      name,
      colour: PATTERN_COLOURS[index]!,
      bars: [index, null],
      ...(hasFeel ? { cells: { snare: { feel: { grooveId: "g", timingPercent: 100, accentPercent: 0 } } } } : {}),
    })),
    song: names.map((name) => ({ id: `entry ${name}`, patternId: name, repeats })),
    grooves: hasFeel ? { g: groove } : {},
  }));

/** Drawn for every part of a pattern, so that one that is new is asked for by the compiler. What every state has the same never differs. */
const parts = {
  hits,
  lanes,
  ppq: fc.constant(480),
  lengthTicks: fc.constantFrom(7680, 9600),
  meters: fc.constantFrom([], [{ tick: 0, numerator: 3, denominator: 4 }]),
  tempos: fc.constantFrom([], [{ tick: 0, usPerQuarter: 400_000 }]),
  streams: fc.boolean().map((isDrums) => patternOf([]).streams.map((stream) => ({ ...stream, isDrums }))),
  noteMap: fc.constantFrom(GENERAL_MIDI, { ...GENERAL_MIDI, name: "Another kit" }),
  outgoingMap: fc.constantFrom(null, GENERAL_MIDI),
  changedMessages: fc.dictionary(
    fc.constantFrom("0:1", "0:2", "1:7"),
    fc.constantFrom(null, { tick: 30, bytes: [0xb9, 4, 3] }),
  ),
  arrangement: maybe(arrangement),
  fullness: maybe(fc.constantFrom({ percent: 80, seed: 1 }, { percent: 50, seed: 3 })),
  levels: maybe(fc.constantFrom({ snare: { gainDb: -3, panPercent: 20 } }, { click: { gainDb: 6, panPercent: 0 } })),
  timeline: maybe(
    fc.constantFrom([], [{ tick: 1920, ticks: 3840 }], [{ tick: 0, ticks: -480 }]).map((barChanges) => ({
      fileTempos: [],
      fileMeters: [],
      playedTempos: [{ tick: 0, usPerQuarter: 450_000 }],
      startMs: 20,
      ...(barChanges.length > 0 ? { barChanges } : {}),
    })),
  ),
  otherSide: maybe(fc.constantFrom("A" as const, "B" as const)),
} satisfies Readonly<Record<keyof Required<Pattern>, fc.Arbitrary<unknown>>>;

/** Any state of one and the same take. */
export const anyState: fc.Arbitrary<Pattern> = fc
  .record(parts)
  .map(({ arrangement, timeline, levels, fullness, otherSide, ...rest }): Pattern => {
    const timed = { ...rest, ...(timeline ? { timeline } : {}) };
    const placed = hitsOnTimeline(rest.hits, timed).toSorted(compareHits);
    const state = {
      ...timed,
      hits: placed,
      ...(arrangement ? { arrangement } : {}),
      ...(levels ? { levels } : {}),
      ...(fullness ? { fullness } : {}),
    };
    return otherSide ? { ...state, otherSide: sideOfNow(state, otherSide) } : state;
  });

/** A state, and another one of the same take, at times only turned to the other side. */
const pair = anyState.chain((from) =>
  fc.tuple(fc.constant(from), fc.oneof({ weight: 2, arbitrary: anyState }, fc.constant(turnSides(from)))),
);

export interface DrawnEdit {
  readonly before: Pattern;
  readonly edit: Edit;
}

/** Every edit on the way from one state to another, and all of them as one. Each kind is asked, so that a new one is drawn, too. */
export const anyEdits: fc.Arbitrary<readonly DrawnEdit[]> = pair.map(([from, to]) => {
  const whole = editBetween(from, to);
  const drawn: DrawnEdit[] = [{ before: from, edit: whole }];
  let before = from;
  for (const edit of whole.kind === "together" ? whole.edits : []) {
    drawn.push({ before, edit });
    before = applyEdit(before, edit);
  }
  return drawn;
});

export const ALL_KINDS = Object.keys(EDIT_KINDS) as readonly Edit["kind"][];

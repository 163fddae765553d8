import type { MidiMessage } from "../core/smf/index.ts";
import { channelMessage, type Habits, nameMessage, type Wiring } from "./perform.ts";
import type { WrittenBar, WrittenPart } from "./written-part.ts";

/** One number of the show: its part, the way it is played, and the tracks that were recorded beside it. */
export interface DemoTake {
  readonly slug: string;
  readonly part: WrittenPart;
  readonly habits: Habits;
  readonly seed: number;
  readonly otherTracks: readonly (readonly MidiMessage[])[];
  readonly wiring?: Wiring;
}

const VELOCITIES: Habits["velocities"] = {
  ghost: { mean: 34, spread: 6 },
  stroke: { mean: 82, spread: 8 },
  accent: { mean: 112, spread: 6 },
};

const repeat = (times: number, ...bars: WrittenBar[]): WrittenBar[] => Array.from({ length: times }, () => bars).flat();

/** Half-time at 92 bpm: a ghosted snare, hats in eighths, triplet fills. */
function ferryLights(): DemoTake {
  const verse: WrittenBar = {
    hat: "s-g-s-g-s-g-s-g-",
    snare: "---g-g--a--g--g-",
    kick: "a--s------s--s--",
  };
  const answer: WrittenBar = {
    hat: "s-g-s-g-s-g-s---",
    "hat.open": "--------------s-",
    snare: "-g--g---f-----gg",
    kick: "a-----s--s------",
  };
  const chorus: WrittenBar = {
    ride: "a-s-s-s-a-s-s-s-",
    "hat.foot": "----s-------s---",
    snare: "--g---g-a--g-g--",
    "snare.rim-shot": "----------------",
    kick: "a-s---s---s--s--",
  };
  const crash: WrittenBar = { ...chorus, crash: "a---------------", ride: "--s-s-s-a-s-s-s-" };
  const fill: WrittenBar = {
    hat: "s-g-s-g---------",
    snare: ["---g----a-------", "------sss---"],
    "tom-2": "---------s--",
    "tom-5": "----------ss",
    kick: "a--s------------",
  };
  const verses = repeat(3, verse, answer);
  const choruses = [crash, ...repeat(3, chorus)];
  const bars = [
    ...[...verses, verse, fill],
    ...[...choruses, ...choruses.slice(1), fill],
    ...[...verses, verse, fill],
    ...[...choruses, ...choruses.slice(1), fill],
    ...[...verses, verse, fill],
    ...[crash, ...repeat(6, chorus), { crash: "a---------------", kick: "a---------------" }],
  ];
  return {
    slug: "ferry-lights",
    part: { title: "Ferry Lights", bpm: 92, numerator: 4, denominator: 4, bars },
    habits: {
      ppq: 480,
      voices: {
        any: { biasMs: 2, spreadMs: 8 },
        hat: { biasMs: -6, spreadMs: 7 },
        snare: { biasMs: 11, spreadMs: 9 },
        kick: { biasMs: -3, spreadMs: 7 },
      },
      wanderMs: 3,
      velocities: VELOCITIES,
      doubleTriggerShare: 0.02,
      graceMs: 27,
    },
    seed: 9201,
    otherTracks: [bassTrack(480, 48, 4)],
  };
}

/** A bass line that was recorded in the same pass: it must come out as it went in. */
function bassTrack(ppq: number, bars: number, quarters: number): readonly MidiMessage[] {
  const messages: MidiMessage[] = [nameMessage("Bass")];
  for (let beat = 0; beat < bars * quarters; beat++) {
    const note = [40, 40, 43, 45, 47, 45, 43, 38][beat % 8]!;
    messages.push({ kind: "channel", tick: beat * ppq, status: 0x90, data1: note, data2: 88 });
    messages.push({ kind: "channel", tick: beat * ppq + Math.round(ppq * 0.8), status: 0x80, data1: note, data2: 64 });
  }
  return messages;
}

/** A shuffle at 116 bpm, written in eighth triplets. */
function tinOrchard(): DemoTake {
  const groove: WrittenBar = {
    ride: "a-ss-sa-ss-s",
    "hat.foot": "---s-----s--",
    snare: "--ga-g--gagg",
    kick: "a----sa--s--",
  };
  const turn: WrittenBar = {
    ride: "a-ss-sa-ss-s",
    "hat.foot": "---s-----s--",
    snare: "--ga-g--ga-g",
    kick: "a--s-sa-----",
  };
  const fill: WrittenBar = {
    ride: "a-s---------",
    snare: "--ga-gsss---",
    "tom-2": "---------ss-",
    "tom-5": "-----------s",
    kick: "a-----------",
  };
  const shout: WrittenBar = { ...groove, crash: "a-----------", ride: "--ss-sa-ss-s" };
  const eight = [groove, turn, groove, turn, groove, turn, groove, fill];
  const bars = [...eight, shout, ...eight.slice(1), ...eight, shout, ...eight.slice(1), ...eight];
  return {
    slug: "tin-orchard",
    part: { title: "Tin Orchard", bpm: 116, numerator: 4, denominator: 4, bars },
    habits: {
      ppq: 480,
      voices: {
        any: { biasMs: 0, spreadMs: 8 },
        ride: { biasMs: -4, spreadMs: 8 },
        snare: { biasMs: 7, spreadMs: 10 },
        kick: { biasMs: 2, spreadMs: 7 },
      },
      wanderMs: 3,
      velocities: VELOCITIES,
      doubleTriggerShare: 0.01,
      graceMs: 30,
    },
    seed: 1162,
    otherTracks: [],
  };
}

/** 7/8 at 132 bpm, counted 2+2+3. */
function kettleRow(): DemoTake {
  const groove: WrittenBar = { hat: "a-s-s-s-a-s-s-", snare: "----a--g----f-", kick: "a--s----s--s--" };
  const push: WrittenBar = { hat: "a-s-s-s-a-sss-", snare: "----a--g-g--a-", kick: "a-s-----ss----" };
  const bell: WrittenBar = {
    "ride.bell": "a---a---a-----",
    ride: "--s---s---s-s-",
    snare: "----a--g----a-",
    kick: "a--s----s--s--",
  };
  const lift: WrittenBar = { ...bell, crash: "a-------------", "ride.bell": "----a---a-----" };
  const fill: WrittenBar = {
    hat: "a-s-----------",
    snare: "----ssss------",
    "tom-1": "--------ss----",
    "tom-2": "----------ss--",
    "tom-5": "------------ss",
    kick: "a-------------",
  };
  const verse = [groove, push, groove, push, groove, push, groove, fill];
  const chorus = [lift, bell, bell, bell, lift, bell, bell, fill];
  const bars = [
    ...verse,
    ...chorus,
    ...verse,
    ...chorus,
    groove,
    push,
    groove,
    { crash: "a-------------", kick: "a-------------", cowbell: "--a---a---a---" },
  ];
  return {
    slug: "kettle-row",
    part: { title: "Kettle Row", bpm: 132, numerator: 7, denominator: 8, bars },
    habits: {
      ppq: 960,
      voices: {
        any: { biasMs: 1, spreadMs: 8 },
        hat: { biasMs: -5, spreadMs: 8 },
        snare: { biasMs: 9, spreadMs: 9 },
        kick: { biasMs: 4, spreadMs: 8 },
      },
      wanderMs: 4,
      velocities: VELOCITIES,
      doubleTriggerShare: 0.05,
      graceMs: 26,
    },
    seed: 7813,
    otherTracks: [],
  };
}

/** 140 bpm: sixteenth hats with thirty-second rolls and open hats, and a snare that rolls into the sections. */
function mothParade(): DemoTake {
  const groove: WrittenBar = {
    hat: "a-s-g-s-a-s-g-s-a-s-g-s-a-s-g-s-",
    snare: "--------a-----g-----g---a-----g-",
    kick: "a-----s-----s-------a---s-------",
  };
  const rolled: WrittenBar = {
    ...groove,
    hat: "a-s-g-s-a-s-g-s-a-s-g-s-a-s-ssss",
    kick: "a-----s---s-------s-a-----------",
  };
  const opened: WrittenBar = {
    ...groove,
    hat: "a-s-g-s-a-s-g-s-a-s-g-s-a-s-----",
    "hat.open": "----------------------------a---",
  };
  const burst: WrittenBar = { ...groove, hat: "a-s-g-s-a-s-sssssssss-s-a-s-g-s-" };
  const build: WrittenBar = {
    hat: "a-s-g-s-a-s-g-s-----------------",
    snare: "--------a-----g-ggggggggssssaaaa",
    kick: "a-----s---------a-------a-------",
  };
  const crash = (bar: WrittenBar): WrittenBar => ({ ...bar, crash: "a-------------------------------" });
  const eight = [crash(groove), rolled, groove, opened, groove, burst, groove, build];
  const ride: WrittenBar = {
    ride: "a---s---a---s---a---s---a---s---",
    "hat.foot": "--------s---------------s-------",
    snare: "--------a---g-------g---a-----g-",
    kick: "a-----s-----s-------a---s-------",
    clap: "--------a---------------a-------",
  };
  const bridge = [crash(ride), ride, ride, { ...ride, china: "------------------------a-------" }];
  const bars = [
    ...eight,
    ...eight,
    ...bridge,
    ...bridge,
    ...eight,
    ...eight,
    ...bridge,
    ...bridge,
    ...eight,
    ...eight.slice(0, 7),
    crash({ kick: "a-------------------------------" }),
  ];
  return {
    slug: "moth-parade",
    part: { title: "Moth Parade", bpm: 140, numerator: 4, denominator: 4, bars },
    habits: {
      ppq: 480,
      voices: {
        any: { biasMs: 0, spreadMs: 7 },
        hat: { biasMs: -4, spreadMs: 6 },
        snare: { biasMs: 6, spreadMs: 7 },
        kick: { biasMs: -2, spreadMs: 7 },
        clap: { biasMs: 12, spreadMs: 6 },
      },
      wanderMs: 2,
      velocities: VELOCITIES,
      doubleTriggerShare: 0.02,
      graceMs: 22,
    },
    seed: 1404,
    otherTracks: [],
  };
}

/** 6/8 at 64 dotted quarters, cross-stick and ride, from a kit with a pad that no map knows. */
function slackWater(): DemoTake {
  const groove: WrittenBar = {
    ride: "a-sss-a-s-s-",
    "hat.foot": "------s-----",
    "snare.cross-stick": "------a-----",
    kick: "a---s-------",
  };
  const answer: WrittenBar = {
    ride: "a-s-s-a-sss-",
    "hat.foot": "------s-----",
    "snare.cross-stick": "------a---s-",
    kick: "a-----s-----",
  };
  const swell: WrittenBar = { ...answer, "note-22": "----------a-", crash: "a-----------", ride: "--s-s-a-s-s-" };
  const fill: WrittenBar = {
    ride: "a-s-s-------",
    snare: "------ss----",
    "tom-2": "--------ss--",
    "tom-5": "----------ss",
    kick: "a-----------",
  };
  const six = [groove, answer, groove, answer, groove];
  const bars = [
    ...six,
    fill,
    swell,
    ...six,
    swell,
    ...six,
    fill,
    swell,
    ...six,
    swell,
    { crash: "a-----------", kick: "a-----------" },
  ];
  return {
    slug: "slack-water",
    part: { title: "Slack Water", bpm: 96, numerator: 6, denominator: 8, bars },
    habits: {
      ppq: 240,
      voices: {
        any: { biasMs: 3, spreadMs: 11 },
        ride: { biasMs: -7, spreadMs: 10 },
        snare: { biasMs: 14, spreadMs: 12 },
      },
      wanderMs: 6,
      velocities: VELOCITIES,
      doubleTriggerShare: 0.01,
      graceMs: 30,
    },
    seed: 6408,
    otherTracks: [],
  };
}

/**
 * Slack Water again, on the kit that stands on deck: no note is where General MIDI has it, one pad gives all hats by its
 * pedal, a loose cable jitters, and somebody changed the kit half-way.
 */
function slackWaterOnDeck(): DemoTake {
  const water = slackWater();
  const closed = "a-sss-a-s-s-";
  const opened = (bar: WrittenBar): WrittenBar => {
    const { ride, "hat.foot": _foot, ...rest } = bar;
    return ride === closed ? { ...rest, hat: "a-sss-a-s---", "hat.open": "----------s-" } : bar;
  };
  const bars = water.part.bars.map((bar, index) => (index < 7 || (index > 14 && index < 21) ? opened(bar) : bar));
  const jitter = Array.from({ length: 64 }, (_, index) =>
    channelMessage(400 + index * 37, 0xb0, 16, 61 + ((index * 7) % 4)),
  );
  const strays = [...jitter, channelMessage(11_530, 0xc0, 8, 0), channelMessage(5_050, 0xd0, 40, 0)];
  const notes = { 36: 24, 38: 30, 37: 31, 42: 26, 46: 26, 44: 65, 48: 77, 43: 79, 49: 80, 51: 72, 22: 3 };
  return {
    ...water,
    slug: "slack-water-deck-kit",
    part: { ...water.part, title: "Slack Water, deck kit", bars },
    seed: 6409,
    wiring: { notes, strays },
  };
}

/** The drum book of the show, in running order. */
export const NIGHT_FERRY: readonly DemoTake[] = [
  ferryLights(),
  tinOrchard(),
  kettleRow(),
  mothParade(),
  slackWater(),
  slackWaterOnDeck(),
];

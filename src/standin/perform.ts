import { GENERAL_MIDI } from "../core/notemap/index.ts";
import type { MidiFile, MidiMessage } from "../core/smf/index.ts";
import { META, writeText } from "../core/smf/index.ts";
import { buildTempoMap, msToTick, tickToMs } from "../core/time/index.ts";
import type { Random } from "./random.ts";
import { barsOfPart, hitsOfPart, type Role, type TimedBar, type WrittenHit, type WrittenPart } from "./written-part.ts";

/** How one voice is played: off by a habit, and by chance. */
export interface VoiceHabit {
  readonly biasMs: number;
  readonly spreadMs: number;
}

/** How the stand-in drummer plays, faults and all. */
export interface Habits {
  readonly ppq: number;
  /** For each voice, with `any` for the rest. */
  readonly voices: Readonly<Record<string, VoiceHabit>>;
  /** How far the whole player wanders ahead and behind over many bars. */
  readonly wanderMs: number;
  readonly velocities: Readonly<Record<Role, { mean: number; spread: number }>>;
  /** Share of loud hits on kick, snare and toms that trigger twice. */
  readonly doubleTriggerShare: number;
  /** Pads that pick up hard strokes on another one: how often, and how loud in proportion. */
  readonly crossTalk?: {
    readonly fromVoiceId: string;
    readonly toVoiceId: string;
    readonly share: number;
    readonly loudness: number;
  };
  /** How late the module sends everything. */
  readonly latencyMs?: number;
  /** Of flams and drags: how far apart grace notes are. */
  readonly graceMs: number;
}

/** How a kit is wired, if not as General MIDI has it. */
export interface Wiring {
  /** For a note of General MIDI the one that this kit sends. */
  readonly notes: Readonly<Record<number, number>>;
  /** What it sends beside strokes and pedal, on channel 10. */
  readonly strays: readonly MidiMessage[];
}

const STANDARD_WIRING: Wiring = { notes: {}, strays: [] };

/** What a recorded note really is, beside its file. */
export interface TrueHit {
  /** `track:message` of the note-on. */
  readonly id: string;
  readonly kind: "hit" | "grace" | "double" | "crossTalk";
  /** Where it was meant, in ticks of the file; for a grace note or a double trigger, where its main hit was meant. */
  readonly tick: number;
  readonly voiceId: string;
  readonly role: Role;
}

export interface Performance {
  readonly file: MidiFile;
  readonly truth: readonly TrueHit[];
}

interface PlayedNote {
  readonly ms: number;
  readonly note: number;
  readonly velocity: number;
  readonly truth: Omit<TrueHit, "id">;
}

const DRUM_CHANNEL = 9;
const KIT_TRACK = 1;
const NOTE_MS = 40;
const PEDAL_CONTROLLER = 4;
const PEDAL_AHEAD_MS = 30;
const DOUBLE_TRIGGER_VOICES = /^(kick|snare|tom-\d)$/;

/**
 * Plays a written part as a person on an electronic kit would, onto one track on channel 10, with the hat pedal's
 * controller beside it. Further tracks are put behind it as they are.
 * @param random the only source of chance: the same numbers give the same performance
 */
export function perform(
  part: WrittenPart,
  habits: Habits,
  random: Random,
  otherTracks: readonly (readonly MidiMessage[])[] = [],
  wiring: Wiring = STANDARD_WIRING,
): Performance {
  const clock = clockOf(part, habits.ppq);
  const written = hitsOfPart(part, habits.ppq);
  const played = written.flatMap((hit) => playHit(hit, habits, clock, random)).sort((a, b) => a.ms - b.ms);
  const strays = wiring.strays.map((message) => ({ message }));
  const ordered = [...noteMessages(played, wiring, clock), ...pedalMessages(written, clock), ...strays].sort(
    (a, b) => a.message.tick - b.message.tick,
  );
  const kit: { message: MidiMessage; truth?: PlayedNote }[] = [{ message: nameMessage("Kit") }, ...ordered];
  const truth = kit.flatMap((item, messageIndex) =>
    item.truth ? [{ id: `${KIT_TRACK}:${messageIndex}`, ...item.truth.truth }] : [],
  );
  const tracks = [headTrack(part, habits.ppq), kit.map(({ message }) => message), ...otherTracks];
  const file: MidiFile = {
    format: 1,
    division: { kind: "ppq", ppq: habits.ppq },
    tracks: tracks.map((messages) => ({ messages })),
    unknownChunks: [],
    headerExtra: new Uint8Array(0),
  };
  return { file, truth };
}

/** Turns ticks into the time at which they are meant, and times into ticks. */
interface Clock {
  toMs(tick: number): number;
  toTick(ms: number): number;
}

function clockOf(part: WrittenPart, ppq: number): Clock {
  if (!part.changes?.some(({ bpm }) => bpm !== undefined)) {
    const msPerTick = 60_000 / (part.bpm * ppq);
    return { toMs: (tick) => tick * msPerTick, toTick: (ms) => ms / msPerTick };
  }
  const tempos = barsOfPart(part, ppq).map(({ startTick, bpm }) => ({ tick: startTick, usPerQuarter: usOf(bpm) }));
  const map = buildTempoMap(ppq, tempos);
  return { toMs: (tick) => tickToMs(map, tick), toTick: (ms) => msToTick(map, ms) };
}

const usOf = (bpm: number) => Math.round(60_000_000 / bpm);

function playHit(hit: WrittenHit, habits: Habits, clock: Clock, random: Random): PlayedNote[] {
  const habit = habits.voices[hit.voiceId] ?? habits.voices.any ?? { biasMs: 0, spreadMs: 8 };
  const meantMs = clock.toMs(hit.tick);
  const wanderMs = habits.wanderMs * Math.sin(meantMs / 9000);
  const lateMs = habits.latencyMs ?? 0;
  const ms = Math.max(0, meantMs + wanderMs + habit.biasMs + lateMs + random.bell(habit.spreadMs));
  const loudness = habits.velocities[hit.role];
  const velocity = limitVelocity(loudness.mean + random.bell(loudness.spread));
  const { tick, voiceId, role } = hit;
  const notes: PlayedNote[] = [{ ms, note: hit.note, velocity, truth: { kind: "hit", tick, voiceId, role } }];
  for (let grace = 1; grace <= hit.graceNotes; grace++) {
    const graceMs = ms - grace * habits.graceMs + random.bell(2);
    if (graceMs < 0) continue;
    const graceVelocity = limitVelocity(velocity * 0.4 + random.bell(4));
    notes.push({
      ms: graceMs,
      note: hit.note,
      velocity: graceVelocity,
      truth: { kind: "grace", tick, voiceId, role: "ghost" },
    });
  }
  const mayDouble = role !== "ghost" && DOUBLE_TRIGGER_VOICES.test(voiceId);
  if (mayDouble && random.chance(habits.doubleTriggerShare)) {
    const doubleMs = ms + 18 + random.uniform() * 18;
    const doubleVelocity = limitVelocity(velocity * (0.2 + random.uniform() * 0.2));
    notes.push({
      ms: doubleMs,
      note: hit.note,
      velocity: doubleVelocity,
      truth: { kind: "double", tick, voiceId, role },
    });
  }
  const { crossTalk } = habits;
  if (crossTalk?.fromVoiceId === voiceId && role !== "ghost" && random.chance(crossTalk.share)) {
    const note = noteOfVoice(crossTalk.toVoiceId);
    const talkVelocity = limitVelocity(velocity * crossTalk.loudness * (0.8 + 0.4 * random.uniform()));
    const truth = { kind: "crossTalk", tick, voiceId: crossTalk.toVoiceId, role: "ghost" } as const;
    notes.push({ ms: ms + 1 + random.uniform() * 3, note, velocity: talkVelocity, truth });
  }
  return notes;
}

function noteOfVoice(voiceId: string): number {
  return GENERAL_MIDI.entries.find((entry) => entry.voiceId === voiceId)?.note ?? 0;
}

function limitVelocity(velocity: number): number {
  return Math.min(127, Math.max(1, Math.round(velocity)));
}

function noteMessages(played: readonly PlayedNote[], { notes }: Wiring, clock: Clock) {
  const items: { message: MidiMessage; truth?: PlayedNote }[] = [];
  const nextMs = new Map<number, number>();
  for (const note of played.toReversed()) {
    const tick = Math.round(clock.toTick(note.ms));
    const sent = notes[note.note] ?? note.note;
    const endMs = Math.min(note.ms + NOTE_MS, nextMs.get(sent) ?? Number.POSITIVE_INFINITY);
    nextMs.set(sent, note.ms);
    const endTick = Math.max(tick, Math.round(clock.toTick(endMs)));
    items.push({ message: channelMessage(endTick, 0x80, sent, 64) });
    items.push({ message: channelMessage(tick, 0x90, sent, note.velocity), truth: note });
  }
  return items.reverse();
}

/** The foot opens and closes the hats shortly before a stroke needs it. */
function pedalMessages(written: readonly WrittenHit[], clock: Clock) {
  const items: { message: MidiMessage; truth?: PlayedNote }[] = [];
  let isOpen: boolean | null = null;
  for (const hit of written) {
    if (hit.voiceId !== "hat" || (hit.articulationId === "open") === isOpen) continue;
    isOpen = hit.articulationId === "open";
    const tick = Math.max(0, Math.round(clock.toTick(clock.toMs(hit.tick) - PEDAL_AHEAD_MS)));
    items.push({ message: channelMessage(tick, 0xb0, PEDAL_CONTROLLER, isOpen ? 12 : 118) });
  }
  return items;
}

export function channelMessage(tick: number, kind: number, data1: number, data2: number): MidiMessage {
  return { kind: "channel", tick, status: kind | DRUM_CHANNEL, data1, data2 };
}

export function nameMessage(name: string): MidiMessage {
  return { kind: "meta", tick: 0, metaType: META.trackName, data: writeText(name) };
}

function headTrack(part: WrittenPart, ppq: number): readonly MidiMessage[] {
  const messages: MidiMessage[] = [nameMessage(part.title)];
  let before: TimedBar | null = null;
  for (const bar of barsOfPart(part, ppq)) {
    const { startTick: tick, numerator, denominator, bpm } = bar;
    if (before?.numerator !== numerator || before.denominator !== denominator) {
      const data = Uint8Array.of(numerator, Math.log2(denominator), 24, 8);
      messages.push({ kind: "meta", tick, metaType: META.meter, data });
    }
    if (before?.bpm !== bpm) {
      const us = usOf(bpm);
      const data = Uint8Array.of(us >> 16, (us >> 8) & 0xff, us & 0xff);
      messages.push({ kind: "meta", tick, metaType: META.tempo, data });
    }
    before = bar;
  }
  return messages;
}

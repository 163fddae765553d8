import type { MidiFile, MidiMessage } from "../core/smf/index.ts";
import { META, writeText } from "../core/smf/index.ts";
import type { Random } from "./random.ts";
import { hitsOfPart, type Role, type WrittenHit, type WrittenPart } from "./written-part.ts";

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
  readonly kind: "hit" | "grace" | "double";
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
  const msPerTick = 60_000 / (part.bpm * habits.ppq);
  const written = hitsOfPart(part, habits.ppq);
  const played = written.flatMap((hit) => playHit(hit, habits, msPerTick, random)).sort((a, b) => a.ms - b.ms);
  const strays = wiring.strays.map((message) => ({ message }));
  const ordered = [...noteMessages(played, wiring, msPerTick), ...pedalMessages(written, msPerTick), ...strays].sort(
    (a, b) => a.message.tick - b.message.tick,
  );
  const kit: { message: MidiMessage; truth?: PlayedNote }[] = [{ message: nameMessage("Kit") }, ...ordered];
  const truth = kit.flatMap((item, messageIndex) =>
    item.truth ? [{ id: `${KIT_TRACK}:${messageIndex}`, ...item.truth.truth }] : [],
  );
  const tracks = [headTrack(part), kit.map(({ message }) => message), ...otherTracks];
  const file: MidiFile = {
    format: 1,
    division: { kind: "ppq", ppq: habits.ppq },
    tracks: tracks.map((messages) => ({ messages })),
    unknownChunks: [],
    headerExtra: new Uint8Array(0),
  };
  return { file, truth };
}

function playHit(hit: WrittenHit, habits: Habits, msPerTick: number, random: Random): PlayedNote[] {
  const habit = habits.voices[hit.voiceId] ?? habits.voices.any ?? { biasMs: 0, spreadMs: 8 };
  const wanderMs = habits.wanderMs * Math.sin((hit.tick * msPerTick) / 9000);
  const meantMs = hit.tick * msPerTick;
  const ms = Math.max(0, meantMs + wanderMs + habit.biasMs + random.bell(habit.spreadMs));
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
  return notes;
}

function limitVelocity(velocity: number): number {
  return Math.min(127, Math.max(1, Math.round(velocity)));
}

function noteMessages(played: readonly PlayedNote[], { notes }: Wiring, msPerTick: number) {
  const items: { message: MidiMessage; truth?: PlayedNote }[] = [];
  const nextMs = new Map<number, number>();
  for (const note of played.toReversed()) {
    const tick = Math.round(note.ms / msPerTick);
    const sent = notes[note.note] ?? note.note;
    const endMs = Math.min(note.ms + NOTE_MS, nextMs.get(sent) ?? Number.POSITIVE_INFINITY);
    nextMs.set(sent, note.ms);
    const endTick = Math.max(tick, Math.round(endMs / msPerTick));
    items.push({ message: channelMessage(endTick, 0x80, sent, 64) });
    items.push({ message: channelMessage(tick, 0x90, sent, note.velocity), truth: note });
  }
  return items.reverse();
}

/** The foot opens and closes the hats shortly before a stroke needs it. */
function pedalMessages(written: readonly WrittenHit[], msPerTick: number) {
  const items: { message: MidiMessage; truth?: PlayedNote }[] = [];
  let isOpen: boolean | null = null;
  for (const hit of written) {
    if (hit.voiceId !== "hat" || (hit.articulationId === "open") === isOpen) continue;
    isOpen = hit.articulationId === "open";
    const tick = Math.max(0, Math.round(hit.tick - 30 / msPerTick));
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

function headTrack(part: WrittenPart): readonly MidiMessage[] {
  const usPerQuarter = Math.round(60_000_000 / part.bpm);
  const tempo = Uint8Array.of(usPerQuarter >> 16, (usPerQuarter >> 8) & 0xff, usPerQuarter & 0xff);
  const meter = Uint8Array.of(part.numerator, Math.log2(part.denominator), 24, 8);
  return [
    nameMessage(part.title),
    { kind: "meta", tick: 0, metaType: META.meter, data: meter },
    { kind: "meta", tick: 0, metaType: META.tempo, data: tempo },
  ];
}

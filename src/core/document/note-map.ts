import { remembering } from "../remember.ts";

export const FAMILIES = ["cymbals", "hats", "snare", "toms", "kick", "percussion"] as const;
export type Family = (typeof FAMILIES)[number];

export const ARTICULATION_MARKS = ["none", "open", "half-open", "foot", "rim", "cross", "bell", "edge"] as const;
/** How a stroke is marked on its fin. */
export type ArticulationMark = (typeof ARTICULATION_MARKS)[number];

export interface Articulation {
  readonly id: string;
  readonly name: string;
  readonly mark: ArticulationMark;
}

/** One sound source of the kit, with the ways it can be struck. */
export interface Voice {
  readonly id: string;
  readonly name: string;
  readonly family: Family;
  /** Whose ink it is drawn in: its own family's, unless a person chose another. */
  readonly ink: Family;
  readonly articulations: readonly Articulation[];
}

/** Values of the hat pedal (controller 4), both included: 0 is open, 127 pressed shut. */
export interface PedalRange {
  readonly from: number;
  readonly to: number;
}

/** An incoming note and what it plays. */
export interface NoteMapEntry {
  /** 0 to 127. */
  readonly note: number;
  /** 0 to 15; null for any channel. */
  readonly channel: number | null;
  /** Null for any place of the pedal. */
  readonly pedal: PedalRange | null;
  /** What the track is called that it is on, as `trackLabel` says. Left out for any track. */
  readonly track?: string;
  readonly voiceId: string;
  readonly articulationId: string;
}

/** The note that a stroke goes out on, for the kit that will play it. */
export interface OutgoingNote {
  readonly voiceId: string;
  readonly articulationId: string;
  /** 0 to 127. */
  readonly note: number;
  /** 0 to 15; null for the channel that a hit came in on. */
  readonly channel: number | null;
}

export interface NoteMap {
  readonly id: string;
  readonly name: string;
  /** In the order of the lanes. */
  readonly voices: readonly Voice[];
  readonly entries: readonly NoteMapEntry[];
  /** Only where a stroke goes out on another note than the one that plays it. */
  readonly outgoing: readonly OutgoingNote[];
}

export interface NoteMeaning {
  readonly voiceId: string;
  readonly articulationId: string;
}

/** What is known of a note when it comes in. */
export interface Strike {
  /** 0 to 127. */
  readonly note: number;
  /** 0 to 15. */
  readonly channel: number;
  /** Where the hat pedal was, 0 to 127; null if the take has no pedal up to there. */
  readonly pedal: number | null;
  /** What its track is called, as `trackLabel` says. Left out for what comes from no file. */
  readonly track?: string;
}

/** The one articulation of a note that the map does not name. */
const UNNAMED: Articulation = { id: "unnamed", name: "unnamed", mark: "none" };
const UNNAMED_VOICE = /^note-(\d{1,3})$/;

/** The entries of each note, the most particular first. Maps never change, so this is found once for each. */
const rememberEntries = remembering<NoteMap, ReadonlyMap<number, readonly NoteMapEntry[]>>();
const entriesByNote = (map: NoteMap) => rememberEntries(map, [], () => sortedEntries(map));

function sortedEntries(map: NoteMap): ReadonlyMap<number, readonly NoteMapEntry[]> {
  const byNote = new Map<number, NoteMapEntry[]>();
  for (const entry of map.entries) {
    const entries = byNote.get(entry.note);
    if (entries) entries.push(entry);
    else byNote.set(entry.note, [entry]);
  }
  const particularity = ({ track, channel, pedal }: NoteMapEntry) =>
    (track === undefined ? 0 : 4) + (channel === null ? 0 : 2) + (pedal === null ? 0 : 1);
  for (const entries of byNote.values()) entries.sort((a, b) => particularity(b) - particularity(a));
  return byNote;
}

/** The entry that a strike matches: one for its track before one for any, and so with its channel, and then with its pedal. */
export function entryOf(map: NoteMap, { note, channel, pedal, track }: Strike): NoteMapEntry | null {
  const matches = (entry: NoteMapEntry) =>
    (entry.track === undefined || entry.track === track) &&
    (entry.channel === null || entry.channel === channel) &&
    (entry.pedal === null || (pedal !== null && pedal >= entry.pedal.from && pedal <= entry.pedal.to));
  return entriesByNote(map).get(note)?.find(matches) ?? null;
}

/** Says what a strike plays. A note that the map does not know gets a voice of its own, so that it is never hidden. */
export function meaningOf(map: NoteMap, strike: Strike): NoteMeaning {
  return entryOf(map, strike) ?? meaningWithoutName(strike.note);
}

export function meaningWithoutName(note: number): NoteMeaning {
  return { voiceId: `note-${note}`, articulationId: UNNAMED.id };
}

export function isSameMeaning(a: NoteMeaning, b: NoteMeaning): boolean {
  return a.voiceId === b.voiceId && a.articulationId === b.articulationId;
}

/** The map with one meaning for a note, whatever the channel and pedal; entries that it had for it give way, but for those of a track. */
export function withMeaning(map: NoteMap, note: number, { voiceId, articulationId }: NoteMeaning): NoteMap {
  const others = map.entries.filter((entry) => entry.note !== note || entry.track !== undefined);
  const isKnown = map.voices.some((voice) => voice.id === voiceId);
  const entry: NoteMapEntry = { note, channel: null, pedal: null, voiceId, articulationId };
  return { ...map, entries: isKnown ? [...others, entry].sort(compareEntries) : others };
}

/** By note, then track, then channel, then pedal from pressed to open. */
export function compareEntries(a: NoteMapEntry, b: NoteMapEntry): number {
  const [one, other] = [a.track ?? "", b.track ?? ""];
  return (
    a.note - b.note ||
    (one < other ? -1 : one > other ? 1 : 0) ||
    (a.channel ?? -1) - (b.channel ?? -1) ||
    (b.pedal?.from ?? 128) - (a.pedal?.from ?? 128)
  );
}

/** The voice with this id, also for a voice made for an unnamed note. */
export function findVoice(map: NoteMap, voiceId: string): Voice {
  const known = map.voices.find((voice) => voice.id === voiceId);
  if (known) return known;
  const note = UNNAMED_VOICE.exec(voiceId)?.[1];
  const name = note ? `Note ${note}` : voiceId;
  return { id: voiceId, name, family: "percussion", ink: "percussion", articulations: [UNNAMED] };
}

/** `Snare, rim shot`; a voice that is struck in one way only is its name alone. */
export function strokeName(map: NoteMap, { voiceId, articulationId }: NoteMeaning): string {
  const { name, articulations } = findVoice(map, voiceId);
  const stroke = articulations.find(({ id }) => id === articulationId);
  return stroke && articulations.length === 1 ? name : `${name}, ${stroke?.name ?? articulationId}`;
}

/** Whether the voice was made for a note that the map does not name. */
export function isUnnamedVoice(voiceId: string): boolean {
  return UNNAMED_VOICE.test(voiceId);
}

/** Sorts voice ids as the map orders them; unnamed notes come last, high notes first. */
export function sortVoiceIds(map: NoteMap, voiceIds: Iterable<string>): readonly string[] {
  const order = new Map(map.voices.map((voice, index) => [voice.id, index]));
  const rank = (voiceId: string) => order.get(voiceId) ?? 1000 - Number(UNNAMED_VOICE.exec(voiceId)?.[1] ?? 0);
  return [...voiceIds].sort((a, b) => rank(a) - rank(b));
}

/** The stroke of a drum that is like another: of the same name, else marked alike, else its first. */
export function strokeLike(
  voice: Voice,
  like: { readonly articulationId: string; readonly mark: string },
): NoteMeaning {
  const { articulations } = voice;
  const stroke =
    articulations.find(({ id }) => id === like.articulationId) ??
    articulations.find(({ mark }) => mark === like.mark) ??
    articulations[0];
  return { voiceId: voice.id, articulationId: stroke?.id ?? "unnamed" };
}

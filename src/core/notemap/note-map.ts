export const FAMILIES = ["cymbals", "hats", "snare", "toms", "kick", "percussion"] as const;
export type Family = (typeof FAMILIES)[number];

/** How a stroke is marked on its fin. */
export type ArticulationMark = "none" | "open" | "half-open" | "foot" | "rim" | "cross" | "bell" | "edge";

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
  readonly articulations: readonly Articulation[];
}

/** An incoming note and what it plays. */
export interface NoteMapEntry {
  /** 0 to 127. */
  readonly note: number;
  readonly voiceId: string;
  readonly articulationId: string;
}

export interface NoteMap {
  readonly id: string;
  readonly name: string;
  /** In the order of a drum staff: cymbals above, kick at the bottom, percussion under it. */
  readonly voices: readonly Voice[];
  readonly entries: readonly NoteMapEntry[];
}

export interface NoteMeaning {
  readonly voiceId: string;
  readonly articulationId: string;
}

/** The one articulation of a note that the map does not name. */
const UNNAMED: Articulation = { id: "unnamed", name: "unnamed", mark: "none" };
const UNNAMED_VOICE = /^note-(\d{1,3})$/;

/**
 * Says what a note plays. A note that the map does not know gets a voice of its own, so that it is never hidden.
 * @param note 0 to 127
 */
export function meaningOfNote(map: NoteMap, note: number): NoteMeaning {
  const entry = map.entries.find((candidate) => candidate.note === note);
  return entry ?? { voiceId: `note-${note}`, articulationId: UNNAMED.id };
}

/**
 * The note that a hit goes out on: the one it came in on, unless a hand has moved it to another drum or stroke. Then it is
 * the note of that stroke, else of another stroke of the same drum, else the one it came in on.
 */
export function outgoingNote(map: NoteMap, note: number, { voiceId, articulationId }: NoteMeaning): number {
  const own = meaningOfNote(map, note);
  if (own.voiceId === voiceId && own.articulationId === articulationId) return note;
  const ofVoice = map.entries.filter((entry) => entry.voiceId === voiceId);
  return (ofVoice.find((entry) => entry.articulationId === articulationId) ?? ofVoice[0])?.note ?? note;
}

/** The map with another meaning for one note; an entry that it had for that note gives way. */
export function withMeaning(map: NoteMap, note: number, { voiceId, articulationId }: NoteMeaning): NoteMap {
  const others = map.entries.filter((entry) => entry.note !== note);
  const isKnown = map.voices.some((voice) => voice.id === voiceId);
  const entries = isKnown ? [...others, { note, voiceId, articulationId }].sort((a, b) => a.note - b.note) : others;
  return { ...map, entries };
}

/** The voice with this id, also for a voice made for an unnamed note. */
export function findVoice(map: NoteMap, voiceId: string): Voice {
  const known = map.voices.find((voice) => voice.id === voiceId);
  if (known) return known;
  const note = UNNAMED_VOICE.exec(voiceId)?.[1];
  return { id: voiceId, name: note ? `Note ${note}` : voiceId, family: "percussion", articulations: [UNNAMED] };
}

/** Whether the voice was made for a note that the map does not name. */
export function isUnnamedVoice(voiceId: string): boolean {
  return UNNAMED_VOICE.test(voiceId);
}

/** Sorts voice ids as on a drum staff; unnamed notes come last, high notes first. */
export function sortVoiceIds(map: NoteMap, voiceIds: Iterable<string>): readonly string[] {
  const order = new Map(map.voices.map((voice, index) => [voice.id, index]));
  const rank = (voiceId: string) => order.get(voiceId) ?? 1000 - Number(UNNAMED_VOICE.exec(voiceId)?.[1] ?? 0);
  return [...voiceIds].sort((a, b) => rank(a) - rank(b));
}

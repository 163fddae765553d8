import {
  type ArticulationMark,
  isSameMeaning,
  type NoteMap,
  type NoteMeaning,
  type Voice,
} from "../document/note-map.ts";

/** Where a stroke goes out. */
export interface OutgoingStroke {
  /** 0 to 127. */
  readonly note: number;
  /** 0 to 15; null for the channel that a hit came in on. */
  readonly channel: number | null;
  /** What the track is called that it goes out on; left out for the track that a hit came in on. */
  readonly track?: string;
  /** The stroke whose note it is: another one of the same drum if the map has no note for the one asked for. */
  readonly meaning: NoteMeaning;
}

/** Which strokes sound most like one that is missing, the nearest first; "none" is the plain stroke. */
const NEAREST: Readonly<Record<ArticulationMark, readonly ArticulationMark[]>> = {
  none: ["edge", "rim", "bell"],
  open: ["half-open", "none"],
  "half-open": ["open", "none"],
  foot: ["none", "half-open"],
  rim: ["edge", "none", "cross"],
  cross: ["rim", "none"],
  bell: ["none", "edge"],
  edge: ["none", "rim"],
};

/**
 * The note on which a kit plays a stroke: what the map's outgoing side says, else the note that plays it when it comes
 * in, else those of the nearest stroke of the same drum.
 * @returns null if the map has no note for any stroke of that drum
 */
export function outgoingStroke(map: NoteMap, meaning: NoteMeaning): OutgoingStroke | null {
  const exact = noteFor(map, meaning);
  if (exact) return exact;
  const voice = map.voices.find(({ id }) => id === meaning.voiceId);
  if (!voice) return null;
  for (const articulationId of nearestStrokes(voice, meaning.articulationId)) {
    const found = noteFor(map, { voiceId: voice.id, articulationId });
    if (found) return found;
  }
  return null;
}

function noteFor(map: NoteMap, meaning: NoteMeaning): OutgoingStroke | null {
  const { voiceId, articulationId } = meaning;
  const own = map.outgoing.find((candidate) => isSameMeaning(candidate, meaning));
  if (own) return { note: own.note, channel: own.channel, meaning: { voiceId, articulationId } };
  const entries = map.entries.filter((candidate) => isSameMeaning(candidate, meaning));
  // A drum that has a track of its own is played there. A note that needs the pedal somewhere would play another stroke without it.
  const entry =
    entries.find(({ track }) => track !== undefined) ?? entries.find(({ pedal }) => pedal === null) ?? entries[0];
  if (!entry) return null;
  const { note, channel, track } = entry;
  return { note, channel, ...(track === undefined ? {} : { track }), meaning: { voiceId, articulationId } };
}

function nearestStrokes(voice: Voice, articulationId: string): readonly string[] {
  const mark = voice.articulations.find(({ id }) => id === articulationId)?.mark ?? "none";
  const order = NEAREST[mark];
  const distance = (other: ArticulationMark) => (order.includes(other) ? order.indexOf(other) : order.length);
  return voice.articulations.toSorted((a, b) => distance(a.mark) - distance(b.mark)).map(({ id }) => id);
}

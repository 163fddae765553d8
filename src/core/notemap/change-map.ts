import {
  type Articulation,
  type ArticulationMark,
  compareEntries,
  type Family,
  isSameMeaning,
  type NoteMap,
  type NoteMapEntry,
  type NoteMeaning,
  type OutgoingNote,
  type PedalRange,
  strokeName,
  type Voice,
} from "../document/note-map.ts";

// Changes of a map. Each returns the next map; none changes the one it is given.

export const LONGEST_NAME = 60;
const MOST_VOICES = 256;
const MOST_ENTRIES = 2048;
/** Shut, half open, open: where pads with a pedal are usually split. */
const PEDAL_SPLIT = [
  { articulationId: "closed", name: "closed", mark: "none", pedal: { from: 90, to: 127 } },
  { articulationId: "half-open", name: "half open", mark: "half-open", pedal: { from: 30, to: 89 } },
  { articulationId: "open", name: "open", mark: "open", pedal: { from: 0, to: 29 } },
] as const satisfies readonly (Omit<Articulation, "id"> & Pick<NoteMapEntry, "articulationId" | "pedal">)[];

/** What a map cannot take, and why. */
export class NoteMapError extends Error {
  override readonly name = "NoteMapError";
  constructor(
    readonly code: "map.conflict" | "map.name" | "map.unknown" | "map.size" | "map.range",
    message: string,
    readonly remedy: string,
  ) {
    super(message);
  }
}

/** What of an entry says which strikes it is for. */
export type NoteSource = Pick<NoteMapEntry, "note" | "channel" | "pedal" | "track">;

/** `note 42 of track Hats on channel 10, pedal 0–29`. Channels are counted from 1, as people do. */
export function describeSource({ note, channel, pedal, track }: NoteSource): string {
  const where = `${track === undefined ? "" : ` of track ${track}`}${channel === null ? "" : ` on channel ${channel + 1}`}`;
  return `note ${note}${where}${pedal ? `, pedal ${describePedal(pedal)}` : ""}`;
}

export function describePedal({ from, to }: PedalRange): string {
  return from === to ? `${from}` : `${from}–${to}`;
}

/** Whether both entries claim some strike with the same right. */
function areInConflict(a: NoteMapEntry, b: NoteMapEntry): boolean {
  if (a.note !== b.note || a.channel !== b.channel || a.track !== b.track) return false;
  if (a.pedal === null || b.pedal === null) return a.pedal === b.pedal;
  return a.pedal.from <= b.pedal.to && b.pedal.from <= a.pedal.to;
}

/**
 * Checks that a map makes sense: entries lead to strokes that exist, no two claim the same strike, names can be read.
 * @throws NoteMapError with the first thing that is wrong
 */
export function checkMap(map: NoteMap): void {
  checkName(map.name);
  if (map.voices.length > MOST_VOICES || map.entries.length > MOST_ENTRIES || map.outgoing.length > MOST_ENTRIES) {
    const most = `${MOST_VOICES} drums and ${MOST_ENTRIES} entries`;
    throw new NoteMapError("map.size", `A map can hold ${most}.`, "Leave out what the kit does not have.");
  }
  const strokes = new Set<string>();
  const voiceIds = new Set<string>();
  for (const voice of map.voices) {
    checkName(voice.name);
    for (const { name } of voice.articulations) checkName(name);
    const keys = voice.articulations.map(({ id }) => `${voice.id}/${id}`);
    if (voiceIds.has(voice.id) || new Set(keys).size < keys.length) {
      throw new NoteMapError("map.conflict", `The map has “${voice.name}” twice.`, "Give each drum its own id.");
    }
    if (keys.length === 0)
      throw new NoteMapError("map.unknown", `“${voice.name}” cannot be struck.`, "Give it a stroke.");
    voiceIds.add(voice.id);
    for (const key of keys) strokes.add(key);
  }
  const expectStroke = ({ voiceId, articulationId }: NoteMeaning, note: number) => {
    if (strokes.has(`${voiceId}/${articulationId}`)) return;
    const what = `Note ${note} leads to “${voiceId}, ${articulationId}”, which the map does not have.`;
    throw new NoteMapError("map.unknown", what, "Add that stroke to the map, or name the note again.");
  };
  const claims = new Map<number, NoteMapEntry[]>();
  for (const entry of map.entries) {
    expectStroke(entry, entry.note);
    checkRange(entry);
    const others = claims.get(entry.note) ?? [];
    const other = others.find((candidate) => areInConflict(candidate, entry));
    if (other) throw conflict(map, other, entry);
    claims.set(entry.note, [...others, entry]);
  }
  for (const outgoing of map.outgoing) expectStroke(outgoing, outgoing.note);
}

function conflict(map: NoteMap, holder: NoteMapEntry, claimant: NoteMapEntry): NoteMapError {
  const [one, other] = [strokeName(map, holder), strokeName(map, claimant)];
  const overlap = {
    from: Math.max(holder.pedal?.from ?? 0, claimant.pedal?.from ?? 0),
    to: Math.min(holder.pedal?.to ?? 127, claimant.pedal?.to ?? 127),
  };
  const source = describeSource({ ...holder, pedal: holder.pedal && overlap });
  return new NoteMapError(
    "map.conflict",
    `${source[0]!.toUpperCase()}${source.slice(1)} is claimed twice: by ${one} and by ${other}.`,
    "Choose another note, or tell them apart by track, by channel or by the pedal.",
  );
}

function checkName(name: string): void {
  if (name.trim() === "") throw new NoteMapError("map.name", "A name cannot be empty.", "Type at least one letter.");
  if (name.length <= LONGEST_NAME) return;
  const long = `This name has ${name.length.toLocaleString("en")} characters.`;
  throw new NoteMapError("map.name", long, `Names can have ${LONGEST_NAME}.`);
}

function checkRange({ note, channel, pedal }: NoteMapEntry): void {
  const isIn = (value: number, top: number) => Number.isInteger(value) && value >= 0 && value <= top;
  if (!isIn(note, 127) || (channel !== null && !isIn(channel, 15))) {
    throw new NoteMapError("map.range", "Notes go from 0 to 127, channels from 1 to 16.", "Type another number.");
  }
  if (pedal && !(isIn(pedal.from, 127) && isIn(pedal.to, 127) && pedal.from <= pedal.to)) {
    const remedy = "Type the lower number first.";
    throw new NoteMapError("map.range", "The pedal goes from 0 (open) to 127 (pressed).", remedy);
  }
}

/** @throws NoteMapError if another entry claims the same strike */
export function addEntry(map: NoteMap, entry: NoteMapEntry): NoteMap {
  return checked({ ...map, entries: [...map.entries, entry].sort(compareEntries) });
}

/** @throws NoteMapError if another entry claims the same strike */
export function replaceEntry(map: NoteMap, old: NoteMapEntry, entry: NoteMapEntry): NoteMap {
  return addEntry(removeEntry(map, old), entry);
}

export function removeEntry(map: NoteMap, old: NoteMapEntry): NoteMap {
  return { ...map, entries: map.entries.filter((entry) => entry !== old) };
}

/** Says on which note a stroke goes out; null takes it back to the note that plays it. */
export function setOutgoing(map: NoteMap, meaning: NoteMeaning, to: Omit<OutgoingNote, keyof NoteMeaning> | null) {
  const others = map.outgoing.filter((outgoing) => !isSameMeaning(outgoing, meaning));
  const { voiceId, articulationId } = meaning;
  return checked({ ...map, outgoing: to ? [...others, { voiceId, articulationId, ...to }] : others });
}

/** @throws NoteMapError if the name is empty or too long */
export function renameMap(map: NoteMap, name: string): NoteMap {
  return checked({ ...map, name });
}

/** @throws NoteMapError if the name is empty, too long, or another drum has it */
export function renameVoice(map: NoteMap, voiceId: string, name: string): NoteMap {
  const twin = map.voices.find((voice) => voice.id !== voiceId && isSameName(voice.name, name));
  if (twin) throw new NoteMapError("map.name", `Another drum is called ${twin.name}.`, "Choose another name.");
  return checked(withVoice(map, voiceId, (voice) => ({ ...voice, name })));
}

/** @throws NoteMapError if the name is empty, too long, or another stroke of the drum has it */
export function renameStroke(map: NoteMap, { voiceId, articulationId }: NoteMeaning, name: string): NoteMap {
  return checked(
    withVoice(map, voiceId, (voice) => {
      const twin = voice.articulations.find(({ id, name: other }) => id !== articulationId && isSameName(other, name));
      if (twin) throw new NoteMapError("map.name", `${voice.name} has a stroke ${twin.name}.`, "Choose another name.");
      const rename = (one: Articulation) => (one.id === articulationId ? { ...one, name } : one);
      return { ...voice, articulations: voice.articulations.map(rename) };
    }),
  );
}

export function setFamily(map: NoteMap, voiceId: string, family: Family): NoteMap {
  // The ink goes with the family, until a person chooses another.
  return withVoice(map, voiceId, (voice) => ({
    ...voice,
    family,
    ink: voice.ink === voice.family ? family : voice.ink,
  }));
}

export function setInk(map: NoteMap, voiceId: string, ink: Family): NoteMap {
  return withVoice(map, voiceId, (voice) => ({ ...voice, ink }));
}

/** Puts a drum before another one, or last. */
export function moveVoice(map: NoteMap, voiceId: string, beforeId: string | null): NoteMap {
  const voice = map.voices.find(({ id }) => id === voiceId);
  if (!voice || beforeId === voiceId) return map;
  const others = map.voices.filter(({ id }) => id !== voiceId);
  const index = others.findIndex(({ id }) => id === beforeId);
  return { ...map, voices: index < 0 ? [...others, voice] : others.toSpliced(index, 0, voice) };
}

/** @throws NoteMapError if the name is empty, too long, or taken */
export function addVoice(map: NoteMap, name: string, family: Family): { map: NoteMap; meaning: NoteMeaning } {
  const id = freeId(
    name,
    map.voices.map((voice) => voice.id),
  );
  const stroke: Articulation = { id: "strike", name: "strike", mark: "none" };
  const voice: Voice = { id, name, family, ink: family, articulations: [stroke] };
  const next = renameVoice({ ...map, voices: [...map.voices, voice] }, id, name);
  return { map: next, meaning: { voiceId: id, articulationId: stroke.id } };
}

/** @throws NoteMapError if the name is empty, too long, or taken */
export function addStroke(map: NoteMap, voiceId: string, name: string, mark: ArticulationMark = "none") {
  const voice = map.voices.find(({ id }) => id === voiceId);
  const articulationId = freeId(name, voice?.articulations.map(({ id }) => id) ?? []);
  const grown = withVoice(map, voiceId, (one) => ({
    ...one,
    articulations: [...one.articulations, { id: articulationId, name, mark }],
  }));
  return { map: renameStroke(grown, { voiceId, articulationId }, name), meaning: { voiceId, articulationId } };
}

/** Takes a drum away with its entries. Its notes are without a name then; none of their hits is lost. */
export function removeVoice(map: NoteMap, voiceId: string): NoteMap {
  const isOther = (one: { readonly voiceId: string }) => one.voiceId !== voiceId;
  return {
    ...map,
    voices: map.voices.filter(({ id }) => id !== voiceId),
    entries: map.entries.filter(isOther),
    outgoing: map.outgoing.filter(isOther),
  };
}

/** Lets one note play closed, half open and open, by where the pedal is. */
export function splitByPedal(map: NoteMap, entry: NoteMapEntry): NoteMap {
  const { voiceId } = entry;
  const grown = withVoice(map, voiceId, (voice) => {
    const missing = PEDAL_SPLIT.filter(({ articulationId }) =>
      voice.articulations.every(({ id }) => id !== articulationId),
    );
    const added = missing.map(({ articulationId, name, mark }): Articulation => ({ id: articulationId, name, mark }));
    return { ...voice, articulations: [...voice.articulations, ...added] };
  });
  const entries = PEDAL_SPLIT.map(({ articulationId, pedal }) => ({ ...entry, articulationId, pedal }));
  return checked({ ...grown, entries: [...removeEntry(grown, entry).entries, ...entries].sort(compareEntries) });
}

function withVoice(map: NoteMap, voiceId: string, change: (voice: Voice) => Voice): NoteMap {
  return { ...map, voices: map.voices.map((voice) => (voice.id === voiceId ? change(voice) : voice)) };
}

function checked(map: NoteMap): NoteMap {
  checkMap(map);
  return map;
}

export function isSameName(a: string, b: string): boolean {
  return a.trim().toLowerCase() === b.trim().toLowerCase();
}

/** An id made of a name, that none of the others has. */
export function freeId(name: string, taken: readonly string[]): string {
  const base =
    name
      .toLowerCase()
      .replaceAll(/[^a-z0-9]+/g, "-")
      .replaceAll(/^-|-$/g, "")
      .slice(0, 40) || "drum";
  // "note-38" is kept for notes without a name.
  const start = /^note-\d+$/.test(base) ? `drum-${base}` : base;
  let id = start;
  for (let turn = 2; taken.includes(id); turn++) id = `${start}-${turn}`;
  return id;
}

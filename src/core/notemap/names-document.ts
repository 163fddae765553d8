import { compareEntries, type NoteMap, type NoteMapEntry, type NoteMeaning, type Voice } from "../document/note-map.ts";
import { freeId, isSameName, LONGEST_NAME } from "./change-map.ts";
import { GENERAL_MIDI } from "./general-midi.ts";
import { familyOfName, meaningOfName } from "./names.ts";

/** An element of an XML document that is known to be well formed. */
export interface XmlElement {
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: readonly XmlElement[];
  readonly text: string;
}

export interface NamesReading {
  readonly map: NoteMap;
  /** What could not be taken over, in sentences. */
  readonly notices: readonly string[];
}

/**
 * Makes a map of the note names in a MIDI Names document. A group of notes is a drum and its notes are strokes; a name
 * outside of a group is read by its words: "Snare rim" is the rim shot of the snare. What no word tells is a drum of its own.
 * Of several lists the one with the most names for drums is taken, which the notices say.
 * @param root the `MIDINameDocument` element
 * @returns null if the document holds no note names
 * @source MIDI Names, XML document type 1.0: NoteNameList, NoteGroup, Note, AvailableChannel
 */
export function readNamesDocument(root: XmlElement, fallbackName: string): NamesReading | null {
  const lists = descendants(root, "NoteNameList").filter((list) => descendants(list, "Note").length > 0);
  const [first] = lists.toSorted((a, b) => drumWords(b) - drumWords(a));
  if (!first) return null;
  const notices: string[] = [];
  if (lists.length > 1) {
    const name = first.attributes.Name || "without a name";
    notices.push(
      `The document has ${lists.length} lists of note names; the one that names most drums is taken (${name}).`,
    );
  }
  const reader = new NamesReader(notices);
  for (const child of first.children) {
    if (child.name === "NoteGroup") {
      const groupName = child.attributes.Name?.trim() ?? "";
      for (const note of child.children) reader.read(note, groupName);
    } else reader.read(child, "");
  }
  const name = first.attributes.Name || descendants(root, "Model")[0]?.text || fallbackName;
  const { voices, entries } = reader;
  return { map: { id: "", name: shorten(name), voices, entries: entries.sort(compareEntries), outgoing: [] }, notices };
}

class NamesReader {
  readonly entries: NoteMapEntry[] = [];
  readonly #voices = new Map<string, Voice>();
  readonly #notices: string[];

  constructor(notices: string[]) {
    this.#notices = notices;
  }

  /** In staff order; drums that General MIDI does not have come last. */
  get voices(): readonly Voice[] {
    const rank = new Map(GENERAL_MIDI.voices.map((voice, index) => [voice.id, index]));
    const order = (voice: Voice) => rank.get(voice.id) ?? Number.MAX_SAFE_INTEGER;
    return [...this.#voices.values()].sort((a, b) => order(a) - order(b));
  }

  read(element: XmlElement, groupName: string): void {
    if (element.name !== "Note") return;
    const note = Number(element.attributes.Number);
    const full = element.attributes.Name?.trim() ?? "";
    const isNote = /^\d{1,3}$/.test(element.attributes.Number ?? "") && note <= 127;
    if (!isNote || full === "") {
      this.#notices.push(`An entry without a ${isNote ? "name" : "note from 0 to 127"} is left out.`);
      return;
    }
    if (this.entries.some((entry) => entry.note === note)) {
      this.#notices.push(`Note ${note} is named twice; its first name is kept, “${shorten(full)}” is left out.`);
      return;
    }
    if (full.length > LONGEST_NAME)
      this.#notices.push(`The name of note ${note} is shortened to ${LONGEST_NAME} characters.`);
    this.entries.push({ note, channel: null, pedal: null, ...this.#meaning(full, groupName) });
  }

  #meaning(full: string, groupName: string): NoteMeaning {
    if (groupName === "") {
      const known = meaningOfName(full);
      if (known) return this.#take(known);
    }
    const voiceName = shorten(groupName || full);
    const stroke = shorten(groupName ? strokeOf(full, groupName) : "strike");
    const standard = GENERAL_MIDI.voices.find((voice) => isSameName(voice.name, voiceName));
    const standardStroke =
      standard?.articulations.length === 1 && stroke === "strike"
        ? standard.articulations[0]
        : standard?.articulations.find(({ name }) => isSameName(name, stroke));
    if (standard && standardStroke) return this.#take({ voiceId: standard.id, articulationId: standardStroke.id });
    const voice =
      [...this.#voices.values()].find(({ name }) => isSameName(name, voiceName)) ?? this.#newVoice(voiceName, standard);
    const same = voice.articulations.find(({ name }) => isSameName(name, stroke));
    if (same) return { voiceId: voice.id, articulationId: same.id };
    const id = freeId(
      stroke,
      voice.articulations.map((one) => one.id),
    );
    const mark = standardMark(`${voiceName} ${stroke}`);
    this.#voices.set(voice.id, { ...voice, articulations: [...voice.articulations, { id, name: stroke, mark }] });
    return { voiceId: voice.id, articulationId: id };
  }

  #newVoice(name: string, standard: Voice | undefined): Voice {
    if (standard) return { ...standard, articulations: [] };
    const family = familyOfName(name);
    const taken = [...this.#voices.keys(), ...GENERAL_MIDI.voices.map((voice) => voice.id)];
    return { id: freeId(name, taken), name, family, ink: family, articulations: [] };
  }

  /** A stroke that General MIDI has: its drum grows by just that stroke. */
  #take({ voiceId, articulationId }: NoteMeaning): NoteMeaning {
    const standard = GENERAL_MIDI.voices.find(({ id }) => id === voiceId)!;
    const voice = this.#voices.get(voiceId) ?? { ...standard, articulations: [] };
    const isThere = voice.articulations.some(({ id }) => id === articulationId);
    const stroke = standard.articulations.find(({ id }) => id === articulationId)!;
    this.#voices.set(voiceId, isThere ? voice : { ...voice, articulations: [...voice.articulations, stroke] });
    return { voiceId, articulationId };
  }
}

/** "Snare, rim shot" in the group "Snare" is the stroke "rim shot". */
function strokeOf(full: string, groupName: string): string {
  const isPrefixed = full.length > groupName.length && full.toLowerCase().startsWith(groupName.toLowerCase());
  const rest = isPrefixed ? full.slice(groupName.length).replace(/^[\s,:-]+/, "") : full;
  return isSameName(full, groupName) || rest === "" ? "strike" : rest;
}

function standardMark(name: string) {
  const known = meaningOfName(name);
  const voice = GENERAL_MIDI.voices.find(({ id }) => id === known?.voiceId);
  return voice?.articulations.find(({ id }) => id === known?.articulationId)?.mark ?? "none";
}

function shorten(name: string): string {
  return name.trim().slice(0, LONGEST_NAME);
}

function descendants(element: XmlElement, name: string): XmlElement[] {
  return element.children.flatMap((child) => [...(child.name === name ? [child] : []), ...descendants(child, name)]);
}

function drumWords(list: XmlElement): number {
  return descendants(list, "Note").filter((note) => meaningOfName(note.attributes.Name ?? "") !== null).length;
}

/**
 * Writes a map as a MIDI Names document: a group for each drum, a note for each stroke. The format holds one name a note,
 * so entries for a single track, channel or place of the pedal go out without that condition; where several share a note, the
 * first is named and the notices say which were left out. So are outgoing notes.
 */
export function writeNamesDocument(map: NoteMap): { readonly root: XmlElement; readonly notices: readonly string[] } {
  const notices: string[] = [];
  const written = new Set<number>();
  const groups = map.voices.flatMap((voice): XmlElement[] => {
    const notes = map.entries.flatMap((entry): XmlElement[] => {
      if (entry.voiceId !== voice.id) return [];
      const name = documentName(voice, entry.articulationId);
      if (written.has(entry.note)) {
        notices.push(`Note ${entry.note} can have one name in this format; ${name} is left out.`);
        return [];
      }
      written.add(entry.note);
      if (entry.channel !== null || entry.pedal !== null || entry.track !== undefined)
        notices.push(`${name} goes out without its condition.`);
      return [element("Note", { Number: `${entry.note}`, Name: name })];
    });
    return notes.length === 0 ? [] : [element("NoteGroup", { Name: voice.name }, notes)];
  });
  if (map.outgoing.length > 0) notices.push("Outgoing notes have no place in this format.");
  const channels = Array.from({ length: 16 }, (_, channel) =>
    element("AvailableChannel", { Channel: `${channel + 1}`, Available: channel === 9 ? "true" : "false" }),
  );
  const nameSet = element("ChannelNameSet", { Name: map.name }, [
    element("AvailableForChannels", {}, channels),
    element("NoteNameList", { Name: map.name }, groups),
  ]);
  const device = element("MasterDeviceNames", {}, [
    element("Manufacturer", {}, [], "Unknown"),
    element("Model", {}, [], map.name),
    element("CustomDeviceMode", { Name: map.name }, [
      element("ChannelNameSetAssignments", {}, [element("ChannelNameSetAssign", { Channel: "10", NameSet: map.name })]),
    ]),
    nameSet,
  ]);
  return { root: element("MIDINameDocument", {}, [element("Author", {}), device]), notices };
}

/** `Snare, rim shot`; a plain strike is the drum alone. */
function documentName(voice: Voice, articulationId: string): string {
  const stroke = voice.articulations.find(({ id }) => id === articulationId)?.name ?? articulationId;
  const isPlain =
    isSameName(stroke, "strike") ||
    GENERAL_MIDI.voices.some((standard) => standard.id === voice.id && standard.articulations.length === 1);
  return isPlain ? voice.name : `${voice.name}, ${stroke}`;
}

function element(name: string, attributes: XmlElement["attributes"], children: readonly XmlElement[] = [], text = "") {
  return { name, attributes, children, text };
}

const SIGNS: Readonly<Record<string, string>> = {
  "&": "&amp;",
  "<": "&lt;",
  ">": "&gt;",
  '"': "&quot;",
  "'": "&apos;",
};
/** Signs that XML 1.0 cannot hold at all. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: those are the signs that are taken out
const FORBIDDEN = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g;

/** Writes a document as text. */
export function writeXml(root: XmlElement): string {
  return `<?xml version="1.0" encoding="UTF-8"?>\n${writeElement(root, "")}`;
}

function writeElement({ name, attributes, children, text }: XmlElement, indent: string): string {
  const escaped = (value: string) => value.replaceAll(FORBIDDEN, "").replaceAll(/[&<>"']/g, (sign) => SIGNS[sign]!);
  const pairs = Object.entries(attributes).map(([key, value]) => ` ${key}="${escaped(value)}"`);
  const head = `${indent}<${name}${pairs.join("")}`;
  if (children.length === 0) return text === "" ? `${head}/>\n` : `${head}>${escaped(text)}</${name}>\n`;
  return `${head}>\n${children.map((child) => writeElement(child, `${indent}  `)).join("")}${indent}</${name}>\n`;
}

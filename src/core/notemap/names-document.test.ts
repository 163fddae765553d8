import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type NoteMap, strokeName } from "../document/index.ts";
import {
  addEntry,
  GENERAL_MIDI,
  readNamesDocument,
  setOutgoing,
  splitByPedal,
  writeNamesDocument,
  type XmlElement,
} from "./index.ts";

const element = (name: string, attributes: Record<string, string>, children: XmlElement[] = []): XmlElement => ({
  name,
  attributes,
  children,
  text: "",
});
const note = (number: string, name: string) => element("Note", { Number: number, Name: name });
const documentOf = (...notes: XmlElement[]) =>
  element("MIDINameDocument", {}, [element("NoteNameList", { Name: "Deck kit" }, notes)]);
const strokesOf = (map: NoteMap) => map.entries.map((entry) => `${entry.note} ${strokeName(map, entry)}`);

describe("a names document", () => {
  it("comes back as it went out, for the whole of General MIDI", () => {
    const { root, notices } = writeNamesDocument(GENERAL_MIDI);
    expect(notices).toEqual([]);
    const { map, notices: readNotices } = readNamesDocument(root, "x")!;
    expect(readNotices).toEqual([]);
    expect(map.entries).toEqual(GENERAL_MIDI.entries);
    expect(map.name).toBe(GENERAL_MIDI.name);
    expect(map.voices.map(({ id }) => id)).toEqual(GENERAL_MIDI.voices.map(({ id }) => id));
  });

  it("comes back with any names that people give", () => {
    const names = fc.uniqueArray(
      fc
        .string({ minLength: 1, maxLength: 30 })
        .map((text) => text.trim())
        .filter((text) => text !== "" && !text.includes(",")),
      { maxLength: 12, selector: (text) => text.toLowerCase() },
    );
    fc.assert(
      fc.property(names, (list) => {
        const groups = list.map((name, index) => element("NoteGroup", { Name: name }, [note(`${index}`, name)]));
        const { map } = readNamesDocument(documentOf(...groups, note("127", "Kick")), "x")!;
        const again = readNamesDocument(writeNamesDocument(map).root, "x")!.map;
        expect(strokesOf(again)).toEqual(strokesOf(map));
      }),
      { numRuns: 200 },
    );
  });

  it("reads the words of names that are in no group", () => {
    const { map } = readNamesDocument(
      documentOf(
        note("1", "Bass Drum 1"),
        note("2", "Snare Rim Shot"),
        note("3", "Pedal Hi-Hat"),
        note("4", "Ride Bell"),
        note("5", "Ship's gong"),
      ),
      "x",
    )!;
    expect(strokesOf(map)).toEqual(["1 Kick", "2 Snare", "3 Hi-hat", "4 Ride", "5 Ship's gong"]);
    expect(map.entries.map(({ articulationId }) => articulationId)).toEqual([
      "main",
      "rim-shot",
      "foot",
      "bell",
      "strike",
    ]);
    expect(map.voices.at(-1)).toMatchObject({ name: "Ship's gong", family: "cymbals" });
  });

  it("says what it leaves out", () => {
    const { map, notices } = readNamesDocument(
      documentOf(
        note("36", "Kick"),
        note("36", "Snare"),
        note("200", "Too high"),
        note("37", ""),
        note("38", "y".repeat(10_000)),
      ),
      "x",
    )!;
    expect(map.entries.map((entry) => entry.note)).toEqual([36, 38]);
    expect(map.voices.at(-1)!.name).toHaveLength(60);
    expect(notices).toEqual([
      "Note 36 is named twice; its first name is kept, “Snare” is left out.",
      "An entry without a note from 0 to 127 is left out.",
      "An entry without a name is left out.",
      "The name of note 38 is shortened to 60 characters.",
    ]);
    const split = splitByPedal(GENERAL_MIDI, GENERAL_MIDI.entries.find((entry) => entry.note === 42)!);
    const kick = GENERAL_MIDI.entries.find((entry) => entry.note === 36)!;
    const full = setOutgoing(addEntry(split, { ...kick, note: 3, channel: 2 }), kick, { note: 1, channel: null });
    expect(writeNamesDocument(full).notices).toEqual([
      "Hi-hat, closed goes out without its condition.",
      "Note 42 can have one name in this format; Hi-hat, half open is left out.",
      "Note 42 can have one name in this format; Hi-hat, open is left out.",
      "Kick, main goes out without its condition.",
      "Outgoing notes have no place in this format.",
    ]);
  });

  it("takes the list that names most drums, and says so", () => {
    const keys = element("NoteNameList", { Name: "Keys" }, [note("60", "Middle C"), note("62", "D")]);
    const root = element("MIDINameDocument", {}, [
      keys,
      ...documentOf(note("36", "Kick"), note("38", "Snare")).children,
    ]);
    const { map, notices } = readNamesDocument(root, "x")!;
    expect(map.name).toBe("Deck kit");
    expect(notices).toEqual([
      "The document has 2 lists of note names; the one that names most drums is taken (Deck kit).",
    ]);
    expect(readNamesDocument(element("MIDINameDocument", {}), "x")).toBeNull();
  });
});

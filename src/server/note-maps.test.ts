import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeEach, describe, expect, it } from "vitest";
import { noteMapFile, writeNoteMapFile } from "../api/note-map-file.ts";
import { isNoteMapFile } from "../api/schemas.ts";
import type { NoteMap } from "../core/document/index.ts";
import {
  addVoice,
  GENERAL_MIDI,
  setOutgoing,
  splitByPedal,
  writeNamesDocument,
  writeXml,
} from "../core/notemap/index.ts";
import { changeMap, keepMap, listMaps, setMapRemoved } from "./note-maps.ts";
import { ProblemError } from "./problem-error.ts";
import { readMapFile } from "./read-map-file.ts";
import { type Db, openDatabase } from "./storage/database.ts";

const bytesOf = (text: string) => new TextEncoder().encode(text);
const read = (text: string, name = "kit.midnam") => readMapFile(name, bytesOf(text));
function problem(act: () => unknown) {
  try {
    act();
  } catch (error) {
    if (error instanceof ProblemError) return error.problem;
    throw error;
  }
  throw new Error("It was not refused.");
}

let db: Db;
beforeEach(() => {
  db = openDatabase(mkdtempSync(join(tmpdir(), "marten-maps-")));
});

/** A map with everything that a map can hold. */
function fullMap(): NoteMap {
  const hat = GENERAL_MIDI.entries.find(({ note }) => note === 42)!;
  const split = splitByPedal(GENERAL_MIDI, hat);
  const { map, meaning } = addVoice({ ...split, name: "Galley kit" }, "Ship's <bell> & co", "cymbals");
  return setOutgoing(map, meaning, { note: 99, channel: 3 });
}

describe("maps on the shelf", () => {
  it("are General MIDI, and what is kept there, by name", () => {
    const wheel = keepMap(db, { ...GENERAL_MIDI, name: "Wheelhouse" });
    keepMap(db, fullMap());
    expect(listMaps(db).map(({ map, isBuiltIn }) => [map.name, isBuiltIn])).toEqual([
      ["General MIDI percussion", true],
      ["Galley kit", false],
      ["Wheelhouse", false],
    ]);
    changeMap(db, wheel.map.id, { ...wheel.map, name: "Aft kit" });
    expect(listMaps(db)[1]!.map).toEqual({ ...wheel.map, name: "Aft kit" });
    setMapRemoved(db, wheel.map.id, true);
    expect(listMaps(db)).toHaveLength(2);
    setMapRemoved(db, wheel.map.id, false);
    expect(listMaps(db)).toHaveLength(3);
  });

  it("make sense, or are refused with the reason", () => {
    const entries = Array.from({ length: 128 }, () => GENERAL_MIDI.entries[0]!);
    expect(problem(() => keepMap(db, { ...GENERAL_MIDI, entries })).message).toBe(
      "Note 27 is claimed twice: by High Q and by High Q.",
    );
    expect(problem(() => changeMap(db, "nowhere", GENERAL_MIDI))).toMatchObject({ code: "map.gone" });
    expect(problem(() => setMapRemoved(db, GENERAL_MIDI.id, true)).code).toBe("map.gone");
    expect(listMaps(db)).toHaveLength(1);
  });
});

describe("our own form of a map", () => {
  it("comes back as it went out", () => {
    const { id: _, ...map } = fullMap();
    expect(read(writeNoteMapFile(fullMap()), "kit.json")).toEqual({ map: { id: "", ...map }, notices: [] });
  });

  it("is published as a schema that files hold to", () => {
    const published: unknown = JSON.parse(readFileSync("public/note-map.schema.json", "utf8"));
    expect(published).toEqual(JSON.parse(JSON.stringify(noteMapFile)));
    expect(isNoteMapFile(JSON.parse(writeNoteMapFile(GENERAL_MIDI)))).toBe(true);
  });

  it("is refused when it is damaged, of another shape, or makes no sense", () => {
    expect(problem(() => read(writeNoteMapFile(GENERAL_MIDI).slice(0, 900), "kit.json")).code).toBe("map.json");
    const text = writeNoteMapFile(GENERAL_MIDI);
    expect(problem(() => read(text.replace('"note": 27', '"note": 270')))).toMatchObject({
      code: "map.shape",
      where: "/entries/0/note",
    });
    expect(problem(() => read(text.replace('"note": 27', '"note": 28'))).message).toContain("is claimed twice");
    expect(problem(() => read(text.replace('"Kick"', `"${"x".repeat(1000)}"`))).message).toContain("1,000 characters");
    expect(problem(() => read("MThd", "take.mid")).message).toBe("take.mid is not a note map.");
  });
});

describe("a MIDI Names document", () => {
  it("comes back as it went out, with signs that XML needs for itself", () => {
    const { map } = addVoice({ ...GENERAL_MIDI, name: 'A "map" <1>' }, "Ship's <bell> & co", "cymbals");
    const entry = { note: 3, channel: null, pedal: null, voiceId: map.voices.at(-1)!.id, articulationId: "strike" };
    const grown = { ...map, entries: [...map.entries, entry] };
    const { map: again, notices } = read(writeXml(writeNamesDocument(grown).root));
    expect(notices).toEqual([]);
    expect(again.name).toBe('A "map" <1>');
    expect(again.voices.at(-1)).toMatchObject({ name: "Ship's <bell> & co", family: "cymbals" });
    expect(again.entries.map(({ note }) => note)).toEqual([3, ...GENERAL_MIDI.entries.map(({ note }) => note)]);
  });

  const names = '<NoteNameList Name="Kit"><Note Number="36" Name="Kick"/></NoteNameList>';
  const doctype = '<!DOCTYPE MIDINameDocument PUBLIC "-//Names//EN" "http://example.invalid/names.dtd">';

  it("may name its document type, which is not fetched", () => {
    expect(read(`<?xml version="1.0"?>${doctype}<MIDINameDocument>${names}</MIDINameDocument>`).map.name).toBe("Kit");
  });

  it("cannot bring entities, however they are built", () => {
    const bomb = '<!DOCTYPE x [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]><x>&b;</x>';
    expect(problem(() => read(bomb)).message).toContain("definitions of its own");
    const outside = '<!DOCTYPE x [<!ENTITY a SYSTEM "file:///etc/passwd">]><x>&a;</x>';
    expect(problem(() => read(outside)).message).toContain("definitions of its own");
    expect(problem(() => read("<x>&undeclared;</x>")).code).toBe("xml.refused");
  });

  it("cannot be nested without end, nor have parts without number", () => {
    expect(problem(() => read("<x>".repeat(100_000))).message).toContain("nested deeper");
    expect(problem(() => read(`<x>${"<y/>".repeat(60_000)}</x>`)).message).toContain("more parts");
  });

  it("is refused where it breaks off, with the line", () => {
    const cut = `<MIDINameDocument>\n<NoteNameList Name="Kit">\n<Note Number="36"`;
    expect(problem(() => read(cut))).toMatchObject({ code: "xml.refused", where: "line 3" });
    expect(problem(() => read("<MIDINameDocument><b></MIDINameDocument>")).message).toContain("well-formed");
    expect(problem(() => read("<MIDINameDocument/>", "empty.midnam")).message).toBe("empty.midnam names no notes.");
    expect(problem(() => read("", "nothing.midnam")).code).toBe("map.unreadable");
  });
});

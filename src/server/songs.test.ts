import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { unzipSync } from "fflate";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { isSaveRequest, readSongChoice } from "../api/schemas.ts";
import { arranging, type Edit, sideOfNow } from "../core/document/index.ts";
import { importTake } from "../core/file/index.ts";
import { GROOVES } from "../core/groove/index.ts";
import { GENERAL_MIDI } from "../core/notemap/index.ts";
import { META, readMidiFile, readText } from "../core/smf/index.ts";
import { type Arrangement, changeCells, cutInto, cutsEvery, layOnCells, NO_ARRANGEMENT } from "../core/song/index.ts";
import { runImport, runMidiTask } from "./midi-task.ts";
import { type Db, openDatabase } from "./storage/database.ts";
import { exportSongOf, openProject, saveEdits, storeImport } from "./use-cases.ts";

const bytes = new Uint8Array(readFileSync("demo/kettle-row.mid"));
let folder: string;
let db: Db;
let id: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "marten-songs-"));
  db = openDatabase(folder);
  id = storeImport(db, { fileName: "Kettle Row.mid", book: "" }, bytes, runImport(bytes)).id;
});
afterEach(() => {
  db.close();
  rmSync(folder, { recursive: true });
});

let ids = 0;
const newId = () => `id ${++ids}`;
const cut = () => cutInto(NO_ARRANGEMENT, cutsEvery(36, 12), newId);
const arrange = (from: Arrangement, to: Arrangement): Edit => ({ kind: "arrange", ...arranging(from, to) });
const requestOf = (edits: readonly Edit[], baseRevision = 0) =>
  JSON.parse(
    JSON.stringify({
      baseRevision,
      entries: edits.map((edit) => ({ id: newId(), kind: "do", label: "A step", edit })),
    }),
  );

describe("a song on disk", () => {
  it("comes back as it was arranged, with grooves, own settings and a second set of all", () => {
    const whole = cut();
    const places = whole.patterns.map((pattern) => ({ patternId: pattern.id, voiceId: "snare" }));
    const laid = layOnCells(whole, places, GROOVES[3]!, { timingPercent: 120, accentPercent: -40 });
    const { pattern } = openProject(db, id);
    const { timing } = pattern.lanes[0]!.treatment;
    const own = changeCells(laid, places.slice(1, 2), () => ({ pushMs: 9, timing: { ...timing, isOn: true } }));
    const kept: Edit = { kind: "keepSide", from: null, to: sideOfNow({ ...pattern, arrangement: own }, "A") };
    const request = requestOf([arrange(NO_ARRANGEMENT, whole), arrange(whole, own), kept, { kind: "turnSide" }]);
    expect(isSaveRequest(request)).toBe(true);
    expect(saveEdits(db, id, request)).toEqual({ revision: 4 });
    const again = openProject(db, id).pattern;
    expect(again.arrangement).toEqual(own);
    expect(again.otherSide?.letter).toBe("B");
    expect(Object.keys(again.otherSide!.cells)).toHaveLength(3);
  });

  it("is changed by what is well-formed only", () => {
    const whole = cut();
    const edit = arrange(NO_ARRANGEMENT, whole);
    const spoilt = (change: (request: ReturnType<typeof requestOf>) => void) => {
      const request = requestOf([edit]);
      change(request);
      return isSaveRequest(request);
    };
    const first = (request: ReturnType<typeof requestOf>) => request.entries[0].edit.patterns[0].to;
    expect(spoilt(() => {})).toBe(true);
    expect(spoilt((request) => Object.assign(first(request), { bars: [] }))).toBe(false);
    expect(spoilt((request) => Object.assign(first(request), { bars: [-1] }))).toBe(false);
    expect(spoilt((request) => Object.assign(first(request), { colour: "red" }))).toBe(false);
    expect(spoilt((request) => Object.assign(first(request), { cells: { snare: { feel: { grooveId: "" } } } }))).toBe(
      false,
    );
    expect(spoilt((request) => Object.assign(request.entries[0].edit.song.to[0], { repeats: 100 }))).toBe(false);
    expect(spoilt((request) => Object.assign(request.entries[0].edit, { more: 1 }))).toBe(false);
  });

  it("is refused where it was arranged otherwise in the meantime, and nothing of it is kept", () => {
    const whole = cut();
    saveEdits(db, id, requestOf([arrange(NO_ARRANGEMENT, whole)]));
    const answer = saveEdits(db, id, requestOf([arrange(NO_ARRANGEMENT, cut())], 1));
    expect(answer).toMatchObject({ ok: false, revision: 1 });
    expect(openProject(db, id).pattern.arrangement).toEqual(whole);
  });
});

describe("a song that is written", () => {
  it("is one file, one pattern, or an archive in which no name overwrites another", () => {
    const whole = cut();
    const named = { ...whole, patterns: whole.patterns.map((one) => ({ ...one, name: "A/B: verse?" })) };
    const pattern = { ...openProject(db, id).pattern, arrangement: named };
    const run = (choice: ReturnType<typeof readSongChoice>) =>
      runMidiTask({ kind: "song", bytes, pattern, choice }) as Uint8Array;
    const markers = (file: Uint8Array) =>
      readMidiFile(file).file.tracks[0]!.messages.flatMap((one) =>
        one.kind === "meta" && one.metaType === META.marker ? [readText(one.data)] : [],
      );
    expect(markers(run({ kind: "song" }))).toEqual(["A/B: verse?", "A/B: verse?", "A/B: verse?"]);
    const { id: patternId } = named.patterns[1]!;
    expect(markers(run({ kind: "pattern", patternId }))).toHaveLength(1);
    const archive = unzipSync(run({ kind: "each" }));
    expect(Object.keys(archive)).toEqual(["01 A-B- verse-.mid", "02 A-B- verse-.mid", "03 A-B- verse-.mid"]);
    for (const file of Object.values(archive)) expect(markers(file)).toHaveLength(1);
  });

  it("of a whole take that nothing is done to has its pedal where the take has it", () => {
    const ferry = new Uint8Array(readFileSync("demo/ferry-lights.mid"));
    const { pattern } = importTake(ferry, GENERAL_MIDI);
    const arrangement = cutInto(NO_ARRANGEMENT, cutsEvery(48, 4), newId);
    const song = runMidiTask({
      kind: "song",
      bytes: ferry,
      pattern: { ...pattern, arrangement },
      choice: { kind: "song" },
    });
    const pedalOf = (file: Uint8Array) =>
      readMidiFile(file).file.tracks.flatMap(({ messages }) =>
        messages.flatMap((one) =>
          one.kind === "channel" && one.status >> 4 === 0xb && one.data1 === 4 ? [[one.tick, one.data2]] : [],
        ),
      );
    const ofTake = pedalOf(ferry);
    expect(ofTake.length).toBeGreaterThan(10);
    const firstHat = pattern.hits.find(({ pedal }) => pedal !== null)!;
    // Before the first stroke nothing is there that it could go with.
    const heard = ofTake.filter(([tick]) => tick! > firstHat.recordedTick!);
    expect(pedalOf(song as Uint8Array).slice(-heard.length)).toEqual(heard);
  });

  it("is chosen by its address, and refused in words where there is none", async () => {
    expect(readSongChoice(new URLSearchParams("pattern=p&form=each"))).toEqual({ kind: "pattern", patternId: "p" });
    expect(readSongChoice(new URLSearchParams("form=each"))).toEqual({ kind: "each" });
    expect(readSongChoice(new URLSearchParams("form=other"))).toEqual({ kind: "song" });
    await expect(exportSongOf(db, id, { kind: "song" })).rejects.toThrow("no such pattern");
    await expect(exportSongOf(db, "none", { kind: "song" })).rejects.toThrow("no such project");
  });
});

import { beforeEach, describe, expect, it, vi } from "vitest";
import { addLane } from "../../../core/commands/index.ts";
import { findVoice, type NoteStream, strokeLike } from "../../../core/document/index.ts";
import { GENERAL_MIDI } from "../../../core/notemap/index.ts";
import { hitAt, laneOf, patternOf } from "../../../core/testing/patterns.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { visibleLanes } from "../../../store/bench/bench-selectors.ts";
import { createBenchStore } from "../../../store/bench/bench-store.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { COLOUR_BYS, type ColourBy } from "../../../store/bench/view.ts";
import type { Playback } from "../../../store/playback/playback.ts";
import { Recording } from "../../../store/playin/recording.ts";
import { hitInksOf, legendOf } from "./colours.ts";
import { hideUnused, moveAllHits, moveLane, putAway, setHidden, takeOutToProject } from "./lane-actions.ts";
import { groupsOf } from "./paint/paint-lanes.ts";
import { BIT } from "./paint/picture.ts";

const stream = (trackIndex: number, channel: number, trackName: string, isDrums = true): NoteStream => ({
  trackIndex,
  channel,
  trackName,
  noteCount: 4,
  isDrums,
  reason: "",
});
const STREAMS = [stream(1, 9, "Kit"), stream(2, 0, "Bass", false), stream(3, 9, "Pads"), stream(4, 2, "")];
const hits = [
  hitAt(0, { id: "a", recordedVelocity: 20 }),
  hitAt(480, { id: "b", streamIndex: 2, recordedVelocity: 90 }),
  hitAt(960, { id: "c", streamIndex: 3, recordedVelocity: 125, articulationId: "rim-shot" }),
  hitAt(1440, { id: "k", voiceId: "kick", articulationId: "main", note: 36 }),
  hitAt(1920, { id: "n", voiceId: "note-3", articulationId: "unnamed", note: 3 }),
];
let bench: Bench;
const posted: string[] = [];

beforeEach(() => {
  posted.length = 0;
  vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => {}, removeItem: () => {} });
  vi.stubGlobal("fetch", async (path: string) => {
    posted.push(path);
    const value = path.endsWith("/parts") ? { id: "new", name: "Take, Snare" } : { revision: 1 };
    return Response.json({ ok: true, value });
  });
  const pattern = patternOf(hits, {
    streams: STREAMS,
    lanes: [laneOf("snare"), laneOf("kick"), laneOf("note-3")],
  });
  let turn = 0;
  const store = createBenchStore(
    { id: "p", name: "Take", book: "", fileName: "", notices: [], revision: 0, isPlanned: true, pattern },
    () => `${turn++}`,
  );
  const playback = { audition: async () => {} } as unknown as Playback;
  bench = { store, playback, recording: new Recording(store, playback), pointerTick: null };
});

const state = () => bench.store.getState();
const shown = () => visibleLanes(state()).map((lane) => lane.voiceId);

describe("lanes", () => {
  it("are put away and shown again, and keep what is in them", () => {
    bench.store.openLane("kick");
    expect(putAway(bench)).toMatch(/^Kick is hidden/);
    expect(shown()).toEqual(["snare", "note-3"]);
    expect(state().openVoiceId).toBeNull();
    expect(state().pattern.hits).toHaveLength(5);
    expect(putAway(bench)).toBe("Open a lane first.");
    setHidden(bench, "kick", false);
    expect(shown()).toEqual(["snare", "kick", "note-3"]);
  });

  it("are given to drums that nothing plays, and only those without hits are put away as unused", () => {
    expect(hideUnused(bench)).toBe("Every lane that is shown has hits.");
    bench.store.commit("Give Ride a lane", addLane(state().pattern, "ride"));
    expect(shown()).toEqual(["ride", "snare", "kick", "note-3"]);
    expect(hideUnused(bench)).toBe("Hid Ride.");
    expect(shown()).not.toContain("ride");
    bench.store.undo();
    expect(state().pattern.lanes.map((lane) => lane.voiceId)).not.toContain("ride");
  });

  it("change places by moving their drum in the map, as a step that can be undone", () => {
    expect(moveLane(bench, "kick", -1)).toBeNull();
    expect(shown()).toEqual(["kick", "snare", "note-3"]);
    expect(moveLane(bench, "kick", -1)).toBe("Kick is the first lane.");
    expect(moveLane(bench, "kick", 1)).toBeNull();
    expect(shown()).toEqual(["snare", "kick", "note-3"]);
    expect(moveLane(bench, "kick", 1)).toBe("Unmapped notes stay below the drums.");
    bench.store.undo();
    bench.store.undo();
    expect(state().pattern.noteMap).toEqual(GENERAL_MIDI);
  });

  it("give all their hits to another drum in one step", () => {
    const snare = state().lanes.find((lane) => lane.voiceId === "snare")!;
    const words = moveAllHits(bench, snare.hits, { voiceId: "tom-1", articulationId: "centre" });
    expect(words).toBe("Moved 3 hits to High tom.");
    expect(shown()).toEqual(["tom-1", "kick", "note-3"]);
    bench.store.undo();
    expect(shown()).toEqual(["snare", "kick", "note-3"]);
  });

  it("are taken out to a project, and stay or go as was said", async () => {
    const part = { voiceId: "snare", articulationId: null };
    expect(await takeOutToProject(bench, part, true)).toEqual({ id: "new", name: "Take, Snare" });
    expect(posted.at(-1)).toBe("/api/projects/p/parts");
    expect(state().pattern.hits).toHaveLength(5);
    await takeOutToProject(bench, { voiceId: "snare", articulationId: "rim-shot" }, false);
    expect(state().pattern.hits.map((hit) => hit.id)).toEqual(["a", "b", "k", "n"]);
    bench.store.undo();
    expect(state().pattern.hits).toHaveLength(5);
  });
});

describe("the stroke that a hit gets on another drum", () => {
  it("is the same, one that is marked alike, or the plain one", () => {
    const stroke = (voiceId: string, articulationId: string, mark: string) =>
      strokeLike(findVoice(GENERAL_MIDI, voiceId), { articulationId, mark }).articulationId;
    expect(stroke("tom-1", "centre", "none")).toBe("centre");
    expect(stroke("hat", "long", "open")).toBe("open");
    expect(stroke("snare", "bow", "bell")).toBe("centre");
  });
});

describe("the colours of fins", () => {
  const lane = () => state().lanes.find((one) => one.voiceId === "snare") as LaneView;

  const by = (colourBy: ColourBy) => {
    const bits = new Uint8Array([0, BIT.picked, 0]);
    return {
      bits,
      ink: lane().voice.ink,
      hitInks: hitInksOf(lane(), colourBy, STREAMS),
      isShaded: colourBy === "velocity",
      velocities: lane().cleaned.velocities,
    };
  };

  it("are one a lane by family, and one a role, channel or track otherwise", () => {
    const groups = (colourBy: Parameters<typeof by>[0]) => groupsOf(by(colourBy), false).map(({ rows }) => [...rows]);
    expect(groups("family")).toEqual([[0, 1, 2]]);
    expect(groups("channel").toSorted()).toEqual([[0, 1], [2]]);
    expect(groups("track").toSorted()).toEqual([[0], [1], [2]]);
  });

  it("lose and double no fin, whether others stand back or not", () => {
    for (const colourBy of COLOUR_BYS) {
      for (const fadesOthers of [false, true]) {
        const groups = groupsOf(by(colourBy), fadesOthers);
        expect(groups.flatMap(({ rows }) => rows).toSorted()).toEqual([0, 1, 2]);
        expect(groups.filter(({ isFaded }) => !isFaded).flatMap(({ rows }) => rows)).toEqual(
          fadesOthers ? [1] : expect.arrayContaining([0, 1, 2]),
        );
      }
    }
  });

  it("are said in a legend, which leaves out what is not drums", () => {
    expect(legendOf("family", STREAMS, lane())).toEqual([]);
    expect(legendOf("role", STREAMS, lane()).map(({ name }) => name)).toEqual(["ghost", "normal", "accent"]);
    expect(legendOf("channel", STREAMS, lane()).map(({ name }) => name)).toEqual(["channel 10", "channel 3"]);
    const tracks = legendOf("track", STREAMS, lane());
    expect(tracks.map(({ name }) => name)).toEqual(["Kit", "Pads", "track 5"]);
    expect(new Set(tracks.map(({ ink }) => ink)).size).toBe(3);
  });
});

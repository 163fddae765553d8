import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Hit, Pattern, TreatmentChange } from "../../../../core/document/index.ts";
import { findVoice } from "../../../../core/document/index.ts";
import { GENERAL_MIDI } from "../../../../core/notemap/index.ts";
import { hitAt, laneOf, patternOf } from "../../../../core/testing/patterns.ts";
import { buildTimeMaps } from "../../../../core/time/index.ts";
import { deriveLanes } from "../../../../store/bench/lane-view.ts";
import { STAND_IN_KIT } from "../../../../store/playback/kit-choice.ts";
import { type LaneLook, layoutLanes } from "../lane-layout.ts";
import type { Inks } from "./inks.ts";
import type { PaintContext } from "./paint-fins.ts";
import { BIT, type PictureNews } from "./picture.ts";
import { PictureDesk } from "./picture-desk.ts";
import { type PicturedState, PictureTeller } from "./take-picture.ts";

/** Records what a painter does instead of drawing it. */
function recorder() {
  const moves: [x: number, y: number][] = [];
  const lines: [x: number, y: number][] = [];
  const rects: [x: number, y: number, width: number, height: number][] = [];
  const cleared: number[][] = [];
  const inks = new Set<unknown>();
  const nothing = () => {};
  const context = {
    beginPath: nothing,
    moveTo: (x: number, y: number) => moves.push([x, y]),
    lineTo: (x: number, y: number) => lines.push([x, y]),
    quadraticCurveTo: nothing,
    closePath: nothing,
    rect: nothing,
    arc: nothing,
    fill: () => inks.add(context.fillStyle),
    stroke: nothing,
    fillRect: (...rect: [number, number, number, number]) => rects.push(rect),
    clearRect: (...rect: number[]) => cleared.push(rect),
    fillText: nothing,
    strokeText: nothing,
    measureText: () => ({ width: 0 }) as TextMetrics,
    setLineDash: nothing,
    setTransform: nothing,
    fillStyle: "" as unknown,
    strokeStyle: "",
    lineWidth: 1,
    globalAlpha: 1,
    font: "",
    textBaseline: "",
    textAlign: "",
  } satisfies PaintContext & Pick<CanvasRenderingContext2D, "setTransform">;
  return { context, moves, lines, rects, cleared, inks };
}

const inks = new Proxy({}, { get: (_, name) => String(name), ownKeys: () => [] }) as Inks;

function stateOf(pattern: Pattern, more: Partial<PicturedState> = {}): PicturedState {
  const maps = buildTimeMaps(pattern);
  return {
    lanes: deriveLanes(pattern, [], maps),
    maps,
    pattern,
    scopeId: null,
    hidden: new Set(),
    openVoiceId: null,
    keptOpen: new Set(),
    laneZoom: 1,
    laneSizes: new Map(),
    tool: "select",
    drawing: { velocity: null, lengthQuarters: null, strokes: new Map(), isSnapped: true, showsCells: false },
    drawGrids: new Map(),
    lanesViewPx: 0,
    viewport: { startTick: 0, ticksPerPx: 1, widthPx: 800 },
    side: "cleaned",
    asRecorded: new Set(),
    picked: new Set(),
    muted: new Set(),
    soloed: new Set(),
    frontVoiceId: null,
    summaries: new Map(),
    seen: new Set(),
    colourBy: "family",
    fadesOthers: false,
    kit: STAND_IN_KIT,
    loop: null,
    markers: [],
    ...more,
  };
}

/** A teller and a desk with a recorder for the lanes; `show` paints a state and gives what the news and the painting were. */
function bench() {
  const teller = new PictureTeller();
  const desk = new PictureDesk();
  let record = recorder();
  // What a worker is told is a copy; only what is sent as new can be new there.
  const send = (news: PictureNews) => desk.take({ ...structuredClone({ ...news, scene: {} }), scene: news.scene });
  const place = () => desk.place("lanes", { context: record.context, size: { widthPx: 800, heightPx: 600 }, scale: 1 });
  place();
  return {
    show(state: PicturedState, dragged: readonly TreatmentChange[] | null = null) {
      const news = teller.tell(state, inks, dragged);
      if (news) send(news);
      for (const list of [record.moves, record.lines, record.rects, record.cleared]) list.length = 0;
      record.inks.clear();
      desk.paint();
      return { news, ...record };
    },
    /** As when the surface gets another size: all is painted. */
    showAll(state: PicturedState) {
      record = recorder();
      place();
      return this.show(state);
    },
  };
}

function paint(hitCount: number, ticksPerPx: number, openVoiceId: string | null = null) {
  const hits = Array.from({ length: hitCount }, (_, index) => hitAt(index * 120 + 10));
  const lengthTicks = hitCount * 120 + 1920;
  const pattern = patternOf(hits, { lengthTicks, lanes: [laneOf("snare", { isOn: true, strengthPercent: 100 })] });
  const viewport = { startTick: 0, ticksPerPx, widthPx: 800 };
  return bench().show(stateOf(pattern, { viewport, openVoiceId, picked: new Set(["0:10"]) }));
}

const kick = { voiceId: "kick", articulationId: "main", note: 36 };
const twoLanes = (hits: readonly Hit[] = [hitAt(0), hitAt(480, kick)]) =>
  patternOf([...hits], { lanes: [laneOf("snare"), laneOf("kick")] });

const look = (openVoiceId: string | null): LaneLook => ({
  openVoiceId,
  keptOpen: new Set(),
  laneZoom: 1,
  laneSizes: new Map(),
  lanesViewPx: 0,
});

describe("painting lanes", () => {
  it("puts the upright edge of a fin at its cleaned time, and the recorded tick under the line", () => {
    const { moves } = paint(3, 1);
    const { base } = layoutLanes([{ voice: findVoice(GENERAL_MIDI, "snare") }], look(null))[0]!;
    expect(moves).toContainEqual([120, base]);
    expect(moves).toContainEqual([130.5, base + 3]);
  });

  it("ends the tail of an open hat where the foot shuts it, and marks where a hand chokes a cymbal", () => {
    const hat = { voiceId: "hat", articulationId: "open", note: 46 };
    const crash = { voiceId: "crash", articulationId: "crash", note: 49 };
    const hits = [
      hitAt(0, { ...hat, id: "a", shutTicks: 100 }),
      hitAt(0, { ...crash, id: "b", chokedTicks: 60 }),
      hitAt(400, { ...hat, id: "c" }),
      hitAt(600, { ...hat, id: "d", articulationId: "half-open" }),
    ];
    const state = stateOf(patternOf(hits, { lanes: [laneOf("crash"), laneOf("hat")] }));
    expect([...state.lanes[1]!.ringTicks]).toEqual([100, Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY]);
    expect([...state.lanes[0]!.ringTicks]).toEqual([60]);
    const { rects, lines } = bench().show(state);
    const boxes = layoutLanes(state.lanes, look(null));
    expect(rects).toContainEqual([60, boxes[0]!.base - 9, 2, 9]);
    expect(lines).toContainEqual([99, boxes[1]!.base]);
    expect(lines).toContainEqual([599, boxes[1]!.base]);
  });

  it("paints only what is in view", () => {
    const few = paint(20, 1).moves.length;
    const many = paint(5000, 1).moves.length;
    expect(many).toBeLessThan(few * 2);
  });

  it("draws at most a mark a pixel where hits are denser than pixels", () => {
    expect(paint(50_000, (50_000 * 120) / 780).rects.length).toBeLessThan(2 * 800 + 50);
    // The open lane has fins, a rail and a row of articulations.
    expect(paint(50_000, (50_000 * 120) / 780, "snare").rects.length).toBeLessThan(4 * 800 + 50);
  });
});

describe("what a painter is told", () => {
  it("is everything at first, nothing if nothing has changed, and only the view when it travels", () => {
    const { show } = bench();
    const state = stateOf(twoLanes());
    const first = show(state);
    expect(first.news!.lanes.map(({ ticks }) => ticks?.length)).toEqual([1, 1]);
    const again = show(state);
    expect(again.news).toBeNull();
    expect(again.rects).toEqual([]);
    const travelled = show({ ...state, viewport: { ...state.viewport, startTick: -40 } });
    expect(Object.keys(travelled.news!.scene)).toEqual(["viewport"]);
    expect(travelled.news!.lanes).toEqual([{ voiceId: "snare" }, { voiceId: "kick" }]);
    expect(travelled.cleared).toEqual([[0, 0, 800, 600]]);
    expect(travelled.moves).toContainEqual([40, layoutLanes(state.lanes, look(null))[0]!.base]);
  });

  it("is one lane when one changes, which is painted alone, on its own ground", () => {
    const { show } = bench();
    const pattern = twoLanes();
    const state = stateOf(pattern);
    show(state);
    const lanes = deriveLanes(
      { ...pattern, lanes: [pattern.lanes[0]!, laneOf("kick", { isOn: true })] },
      state.lanes,
      state.maps,
    );
    const { news, cleared, moves } = show({ ...state, lanes });
    const box = layoutLanes(lanes, look(null))[1]!;
    expect(Object.keys(news!.lanes[0]!)).toEqual(["voiceId"]);
    expect(news!.lanes[1]!.isTreated).toBe(true);
    expect(news!.lanes[1]!.recordedTicks).toBeUndefined();
    expect(cleared).toEqual([[0, box.top, 800, box.height]]);
    expect(moves.length).toBeGreaterThan(0);
    expect(moves.every(([, y]) => y >= box.top)).toBe(true);
  });

  it("is the bits alone when hits are picked, of their lane alone", () => {
    const { show } = bench();
    const state = stateOf(twoLanes());
    show(state);
    const { news } = show({ ...state, picked: new Set([state.lanes[0]!.hits[0]!.id]) });
    expect(news!.scene).toEqual({});
    expect(news!.lanes).toEqual([{ voiceId: "snare", bits: new Uint8Array([BIT.picked]) }, { voiceId: "kick" }]);
  });

  it("marks what is pinned, muted, left out and worth a look, but on the recorded side only what a hand muted", () => {
    const hits = [
      hitAt(0, { id: "a", pinnedTick: 10 }),
      hitAt(480, { id: "b", isMuted: true }),
      hitAt(960, { id: "c" }),
    ];
    const lane = laneOf("snare", { isOn: true });
    const treatment = { ...lane.treatment, repair: { leftOut: ["c"] } };
    const pattern = patternOf(hits, { lanes: [{ ...lane, treatment }] });
    const bitsOf = (state: PicturedState) => [...bench().show(state).news!.lanes[0]!.bits!];
    expect(bitsOf(stateOf(pattern))).toEqual([BIT.pinned, BIT.muted, BIT.muted]);
    expect(bitsOf(stateOf(pattern, { side: "recorded" }))).toEqual([0, BIT.muted, 0]);
    expect(bitsOf(stateOf(pattern, { asRecorded: new Set(["snare"]) }))).toEqual([0, BIT.muted, 0]);
    const between = patternOf([hitAt(58, { id: "f" })], { lanes: [laneOf("snare", { isOn: true })] });
    expect(bitsOf(stateOf(between))).toEqual([BIT.flagged]);
    expect(bitsOf(stateOf(between, { seen: new Set(["f"]) }))).toEqual([0]);
  });

  it("is the setting that is dragged, and once the hits: it treats them itself, as the lanes would be", () => {
    const one = bench();
    const pattern = twoLanes([hitAt(20, { id: "a" }), hitAt(500, { id: "b" }), hitAt(480, { id: "k", ...kick })]);
    const state = stateOf(pattern, { openVoiceId: "snare" });
    const before = one.show(state);
    const untouched = [...before.moves];
    const drag = (strengthPercent: number) => {
      const to = laneOf("snare", { isOn: true, strengthPercent }).treatment;
      const lanes = deriveLanes(
        { ...pattern, lanes: [{ voiceId: "snare", treatment: to }, pattern.lanes[1]!] },
        [],
        state.maps,
      );
      return { changes: [{ voiceId: "snare", from: pattern.lanes[0]!.treatment, to }], lanes };
    };
    for (const strengthPercent of [100, 40]) {
      const { changes, lanes } = drag(strengthPercent);
      const { news, moves } = one.show(state, changes);
      expect(news!.lanes).toEqual([{ voiceId: "snare" }, { voiceId: "kick" }]);
      expect(news!.sources!.map(({ hits }) => hits.length)).toEqual(strengthPercent === 100 ? [2] : []);
      expect(moves.length).toBeGreaterThan(0);
      const dragged = [...moves];
      const fresh = bench().show({ ...state, lanes }).moves;
      const ofSnare = fresh.filter(([, y]) => y < layoutLanes(lanes, look("snare"))[1]!.top);
      expect(dragged).toEqual(ofSnare);
    }
    expect(one.show(state).news!.dragged).toBeNull();
    one.showAll(state);
    expect(one.showAll(state).moves).toEqual(untouched);
    const asRecorded = { ...state, asRecorded: new Set(["snare"]) };
    const recorded = bench();
    const still = [...recorded.show(asRecorded).moves];
    recorded.show(asRecorded, drag(100).changes);
    expect(recorded.showAll(asRecorded).moves).toEqual(still);
  });

  it("leaves out lanes that are put away, and knows them again when they are back", () => {
    const { show } = bench();
    const state = stateOf(twoLanes());
    show(state);
    const without = show({ ...state, hidden: new Set(["snare"]) });
    expect(without.news!.lanes.map(({ voiceId }) => voiceId)).toEqual(["kick"]);
    const back = show(state);
    expect(back.news!.lanes[0]!.ticks).toHaveLength(1);
    expect(back.moves.length).toBeGreaterThan(0);
  });

  it("comes to the same picture as telling everything, whatever was changed before", () => {
    const ids = ["a", "b", "c", "d"];
    const hits = [
      hitAt(0, { id: "a" }),
      hitAt(480, { id: "b", ...kick }),
      hitAt(490, { id: "c" }),
      hitAt(960, { id: "d", ...kick }),
    ];
    const someIds = fc.subarray(ids).map((picked) => new Set(picked));
    const someVoices = fc.subarray(["snare", "kick"]).map((voices) => new Set(voices));
    const change = fc.record(
      {
        picked: someIds,
        seen: someIds,
        hidden: someVoices,
        muted: someVoices,
        asRecorded: someVoices,
        side: fc.constantFrom("recorded", "cleaned", "plain" as const),
        colourBy: fc.constantFrom("family", "role" as const),
        fadesOthers: fc.boolean(),
        openVoiceId: fc.constantFrom(null, "snare", "kick"),
        laneZoom: fc.constantFrom(0.6, 1, 2),
        tool: fc.constantFrom("select", "draw" as const),
        lanesViewPx: fc.constantFrom(0, 500),
        viewport: fc.record({
          startTick: fc.integer({ min: -50, max: 400 }),
          ticksPerPx: fc.constantFrom(1, 3),
          widthPx: fc.constant(800),
        }),
        isOn: fc.boolean(),
      },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(fc.array(change, { minLength: 1, maxLength: 6 }), (changes) => {
        const one = bench();
        let pattern = twoLanes(hits);
        let state = stateOf(pattern);
        one.show(state);
        for (const { isOn, ...changed } of changes) {
          if (isOn !== undefined) {
            pattern = { ...pattern, lanes: [laneOf("snare", { isOn }), pattern.lanes[1]!] };
            state = { ...state, pattern, lanes: deriveLanes(pattern, state.lanes, state.maps) };
          }
          state = { ...state, ...(changed as Partial<PicturedState>) };
          one.show(state);
        }
        const { moves, lines, rects } = one.showAll(state);
        const fresh = bench().show(state);
        expect({ moves, lines, rects }).toEqual({ moves: fresh.moves, lines: fresh.lines, rects: fresh.rects });
      }),
      { numRuns: 60 },
    );
  });
});

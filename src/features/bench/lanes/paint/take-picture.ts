import { playsThisTime } from "../../../../core/chance.ts";
import { type Fullness, STEPS, type TreatmentChange } from "../../../../core/document/index.ts";
import { layerBorders } from "../../../../core/dynamics/index.ts";
import { remembering } from "../../../../core/remember.ts";
import { handGridAt, type TimeMaps } from "../../../../core/time/index.ts";
import { fullnessOf, isAudible, pickedRows, visibleLanes } from "../../../../store/bench/bench-selectors.ts";
import type { BenchState } from "../../../../store/bench/bench-state.ts";
import { type LaneView, shownSide, sideOf } from "../../../../store/bench/lane-view.ts";
import { looksOf } from "../../steps/worth-a-look.ts";
import { hitInksOf } from "../colours.ts";
import { boxesOf, type LaneBox } from "../lane-layout.ts";
import type { Inks } from "./inks.ts";
import {
  ALWAYS_PLAYED,
  BIT,
  differences,
  type LanePicture,
  type LaneSource,
  type PictureNews,
  type ScenePicture,
} from "./picture.ts";

/** What the picture of the Bench needs of its state. */
export type PicturedState = Pick<
  BenchState,
  | "lanes"
  | "hidden"
  | "openVoiceId"
  | "keptOpen"
  | "laneZoom"
  | "laneSizes"
  | "lanesViewPx"
  | "viewport"
  | "side"
  | "asRecorded"
  | "picked"
  | "muted"
  | "soloed"
  | "frontVoiceId"
  | "summaries"
  | "seen"
  | "colourBy"
  | "fadesOthers"
  | "tool"
  | "drawing"
  | "drawGrids"
  | "scopeId"
  | "kit"
  | "loop"
  | "markers"
> & {
  readonly maps: TimeMaps;
  readonly pattern: Pick<BenchState["pattern"], "streams" | "lengthTicks" | "arrangement" | "fullness">;
};

/**
 * Tells a painter what has changed since it was told last. It runs on every scrolled frame, so what is the same is found out by
 * identity, and nothing is looked at hit by hit unless something of its lane has changed.
 */
export class PictureTeller {
  #scene: ScenePicture | undefined;
  #lanes: readonly LanePicture[] = [];
  #boxes: readonly LaneBox[] = [];
  #dragged: readonly TreatmentChange[] | null = null;
  /** The hits of each lane that the painter has. */
  readonly #told = new Map<string, LaneView["hits"]>();

  /**
   * @param dragged settings that are dragged now: the painter treats their lanes itself
   * @returns null if nothing has changed
   */
  tell(state: PicturedState, inks: Inks, dragged: readonly TreatmentChange[] | null = null): PictureNews | null {
    const boxes = boxesOf(state);
    if (!areSameBoxes(boxes, this.#boxes)) this.#boxes = boxes;
    const { maps, viewport, loop, markers, fadesOthers } = state;
    const isDrawing = state.tool === "draw";
    const worked = state.lanes.find(({ voiceId }) => voiceId === state.openVoiceId);
    const countGrid = worked ? (state.drawGrids.get(worked.voiceId) ?? worked.treatment.timing.grid) : null;
    const showsCells = isDrawing && state.drawing.showsCells;
    const { lengthTicks } = state.pattern;
    const scene = {
      boxes: this.#boxes,
      maps,
      lengthTicks,
      viewport,
      loop,
      markers,
      fadesOthers,
      isDrawing,
      showsCells,
      countGrid,
      inks,
    };
    const known = new Map(this.#lanes.map((lane) => [lane.voiceId, lane]));
    const lanes = visibleLanes(state).map((lane) => pictureOf(state, lane, known.get(lane.voiceId)));
    const news = {
      scene: differences(this.#scene, scene),
      lanes: lanes.map((lane) => ({ ...differences(known.get(lane.voiceId), lane), voiceId: lane.voiceId })),
      ...(dragged === this.#dragged
        ? {}
        : {
            dragged: dragged === null ? null : dragged.map(({ voiceId, to }) => ({ voiceId, to })),
            sources: this.#sourcesOf(state, dragged ?? []),
          }),
    };
    const isSame =
      dragged === this.#dragged &&
      Object.keys(news.scene).length === 0 &&
      lanes.length === this.#lanes.length &&
      lanes.every((lane, index) => lane === this.#lanes[index]);
    this.#scene = scene;
    this.#lanes = lanes;
    this.#dragged = dragged;
    return isSame ? null : news;
  }

  #sourcesOf({ lanes, pattern }: PicturedState, dragged: readonly TreatmentChange[]): readonly LaneSource[] {
    return dragged.flatMap(({ voiceId }): LaneSource[] => {
      const lane = lanes.find((one) => one.voiceId === voiceId);
      if (!lane || this.#told.get(voiceId) === lane.hits) return [];
      this.#told.set(voiceId, lane.hits);
      return [{ voiceId, hits: lane.hits, family: lane.voice.family, lengthTicks: pattern.lengthTicks }];
    });
  }
}

function areSameBoxes(boxes: readonly LaneBox[], others: readonly LaneBox[]): boolean {
  return (
    boxes.length === others.length &&
    boxes.every(({ voice, top, height }, index) => {
      const other = others[index]!;
      return voice === other.voice && top === other.top && height === other.height;
    })
  );
}

/** What a lane's picture was made of; as long as that is the same, so is the picture. */
const made = new WeakMap<LaneView, { readonly of: readonly unknown[]; readonly picture: LanePicture }>();

/** @param before what was painted of the lane last, whose columns are kept where nothing of them has changed */
function pictureOf(state: PicturedState, lane: LaneView, before: LanePicture | undefined): LanePicture {
  const side = shownSide(state, lane);
  const isClear =
    isAudible(state, lane.voiceId) && (state.frontVoiceId === null || state.frontVoiceId === lane.voiceId);
  const rows = pickedRows(lane.hits, state.picked);
  const { summaries, seen, colourBy, kit, pattern } = state;
  const drawGrid = state.drawGrids.get(lane.voiceId);
  const fullness = fullnessOf(state);
  const of = [
    side,
    isClear,
    rows.length === 0 ? null : rows,
    summaries,
    seen,
    colourBy,
    kit,
    pattern.streams,
    drawGrid,
    fullness.percent,
    fullness.seed,
  ];
  const known = made.get(lane);
  if (known?.of.every((value, index) => value === of[index])) return known.picture;
  const isCleaned = side !== "recorded";
  const { ticks, velocities } = sideOf(lane, side);
  const { timing } = lane.treatment;
  const found = summaries.get(lane.voiceId)?.found;
  const bits = bitsOf(state, lane, rows, isCleaned, fullness);
  const hitInks = hitInksOf(lane, colourBy, pattern.streams);
  const picture: LanePicture = {
    voiceId: lane.voiceId,
    ink: lane.voice.ink,
    hitInks: sameColumn(before?.hitInks, hitInks),
    isShaded: colourBy === "velocity",
    isClear,
    isCleaned,
    ticks,
    velocities,
    recordedTicks: lane.recorded.ticks,
    recordedVelocities: lane.recorded.velocities,
    roles: lane.roles,
    marks: lane.marks,
    ringTicks: lane.ringTicks,
    bits: sameColumn(before?.bits, bits),
    chances: chancesOf(lane.hits),
    cleanedTicks: lane.cleaned.ticks,
    slotTicks: lane.cleaned.slotTicks,
    articulationRows: lane.articulationRows,
    isTreated: STEPS.timing.isOn(lane.treatment),
    handGrid: drawGrid ?? handGridAt({ ...timing, stretches: [] }, 0),
    stretches: drawGrid ? undefined : timing.stretches,
    roleBorders: lane.roleBorders,
    layerBorders: layerBorders(kit, lane.voiceId),
    meanDriftMs: found ? found.meanDriftMs : null,
    spreadMs: found ? found.spreadMs : 0,
  };
  // A lane that was derived anew may look as it did.
  const same = before && Object.keys(differences(before, picture)).length === 0 ? before : picture;
  made.set(lane, { of, picture: same });
  return same;
}

/** The column of before, if the new one holds the same: then it need not be sent. */
function sameColumn<Column extends Uint8Array | null>(before: Column | undefined, after: Column): Column {
  if (before === after) return after;
  const isSame =
    before && after && before.length === after.length && before.every((value, row) => value === after[row]);
  return isSame ? before : after;
}

/** The bits of a lane by its flags, which stay while its hits are dragged about. */
const rememberBits = remembering<Uint8Array, Uint8Array>();

function bitsOf(
  state: PicturedState,
  lane: LaneView,
  picked: readonly number[],
  isCleaned: boolean,
  fullness: Fullness,
): Uint8Array {
  const { flags, isLeftOut } = lane.cleaned;
  const { summaries, seen } = state;
  const of = [
    lane.hits,
    isLeftOut,
    picked,
    isCleaned,
    summaries,
    seen,
    lane.treatment.timing.isOn,
    fullness.percent,
    fullness.seed,
  ];
  return rememberBits(flags, of, () => markBits(state, lane, picked, isCleaned, fullness));
}

function markBits(
  state: PicturedState,
  lane: LaneView,
  picked: readonly number[],
  isCleaned: boolean,
  fullness: Fullness,
): Uint8Array {
  const bits = lastingBits(lane, isCleaned).slice();
  if (isCleaned && chancesOf(lane.hits)) {
    for (const [row, hit] of lane.hits.entries()) {
      if (!playsThisTime(hit, fullness, 0)) bits[row]! |= BIT.muted;
    }
  }
  for (const row of picked) bits[row]! |= BIT.picked;
  if (isCleaned) for (const { row } of looksOf(state, lane)) bits[row]! |= BIT.flagged;
  return bits;
}

/** Which hits are not played always stays as long as the hits do. */
const rememberChances = remembering<LaneView["hits"], Uint8Array | null>();

const chancesOf = (hits: LaneView["hits"]) =>
  rememberChances(hits, [], () =>
    hits.some(({ chance }) => chance)
      ? Uint8Array.from(hits, ({ chance }) => chance?.chancePercent ?? ALWAYS_PLAYED)
      : null,
  );

/** Those that no picking changes: a marquee picks other hits on every frame. */
const rememberLasting = remembering<Uint8Array, Uint8Array>();

const lastingBits = ({ hits, cleaned: { isLeftOut } }: LaneView, isCleaned: boolean) =>
  rememberLasting(isLeftOut, [hits, isCleaned], () => findLasting(hits, isLeftOut, isCleaned));

function findLasting(hits: LaneView["hits"], isLeftOut: Uint8Array, isCleaned: boolean): Uint8Array {
  const bits = new Uint8Array(hits.length);
  for (let row = 0; row < bits.length; row++) {
    const { isMuted, pinnedTick } = hits[row]!;
    if (isMuted || (isCleaned && isLeftOut[row] === 1)) bits[row]! |= BIT.muted;
    if (isCleaned && pinnedTick !== null) bits[row]! |= BIT.pinned;
  }
  return bits;
}

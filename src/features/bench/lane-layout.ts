import type { Voice } from "../../core/document/index.ts";
import { visibleLanes } from "../../store/bench-selectors.ts";
import type { BenchState } from "../../store/bench-state.ts";
import type { LaneView } from "../../store/lane-view.ts";

/** All in px, from the top of the lanes. */
export interface LaneBox {
  readonly voice: Voice;
  readonly top: number;
  readonly height: number;
  /** The line the fins stand on. */
  readonly base: number;
  /** How tall the loudest fin is. */
  readonly finHeight: number;
  /** Only for the open lane. */
  readonly open: OpenBox | null;
}

export interface OpenBox {
  readonly fieldTop: number;
  /** The zero line of the drift rail, and how far it reaches up and down. */
  readonly railZero: number;
  readonly railReach: number;
  readonly articulations: readonly { readonly id: string; readonly name: string; readonly middle: number }[];
}

export const HEAD_WIDTH_PX = 158;
export const RULER_HEIGHT_PX = 26;
const NORMAL = { height: 44, fin: 28, below: 11 };
/** A closed lane grows to this where the screen has room for it. */
const TALLEST_PX = 72;
/** Room that growing lanes leave, so that opening one moves none of them and the open one is in sight. */
const OPEN_LANE_PX = 300;
const SLIM = { height: 27, fin: 18, below: 5 };
const FIELD_HEIGHT = 132;
const RECORDED_STRIP = 16;
const RAIL_REACH = 28;
export const ARTICULATION_HEIGHT = 17;
/** The drift rail reaches this far up (late) and down (early). */
export const RAIL_MS = 40;

/**
 * Stacks the lanes, and the open one among them with its velocity field, drift rail and articulations.
 * @param viewHeightPx how much of the lanes the screen shows at once; closed lanes grow where that is plenty
 */
export function layoutLanes(
  lanes: readonly Pick<LaneView, "voice">[],
  openVoiceId: string | null,
  areSlim: boolean,
  viewHeightPx = 0,
): readonly LaneBox[] {
  const closed = areSlim ? SLIM : grown(viewHeightPx, lanes.length);
  let top = 0;
  return lanes.map(({ voice }) => {
    const box = voice.id === openVoiceId ? openLane(voice, top) : closedLane(voice, top, closed);
    top += box.height;
    return box;
  });
}

/** Where the lanes that are not put away stand now. */
export function boxesOf(
  state: Pick<BenchState, "lanes" | "hidden" | "openVoiceId" | "areSlim" | "lanesViewPx">,
): readonly LaneBox[] {
  return layoutLanes(visibleLanes(state), state.openVoiceId, state.areSlim, state.lanesViewPx);
}

/** As tall as fits beside an open lane, from usual to tallest. */
function grown(viewHeightPx: number, laneCount: number): typeof NORMAL {
  const share = Math.floor((viewHeightPx - OPEN_LANE_PX) / Math.max(1, laneCount));
  const more = Math.min(TALLEST_PX, Math.max(NORMAL.height, share)) - NORMAL.height;
  return { height: NORMAL.height + more, fin: NORMAL.fin + more, below: NORMAL.below };
}

function closedLane(voice: Voice, top: number, { height, fin, below }: typeof NORMAL): LaneBox {
  return { voice, top, height, base: top + height - below, finHeight: fin, open: null };
}

function openLane(voice: Voice, top: number): LaneBox {
  const fieldTop = top + 10;
  const base = fieldTop + FIELD_HEIGHT;
  const railZero = base + RECORDED_STRIP + RAIL_REACH + 4;
  const rowsTop = railZero + RAIL_REACH + 6;
  const rows = voice.articulations.map(({ id, name }, row) => ({
    id,
    name,
    middle: rowsTop + (row + 0.5) * ARTICULATION_HEIGHT,
  }));
  const height = rowsTop + rows.length * ARTICULATION_HEIGHT + 6 - top;
  return {
    voice,
    top,
    height,
    base,
    finHeight: FIELD_HEIGHT - 6,
    open: { fieldTop, railZero, railReach: RAIL_REACH, articulations: rows },
  };
}

/** The height of a velocity above the base line. */
export function finHeightOf(box: LaneBox, velocity: number): number {
  return (velocity / 127) * box.finHeight;
}

export function boxAt(boxes: readonly LaneBox[], y: number): LaneBox | null {
  return boxes.find((box) => y >= box.top && y < box.top + box.height) ?? null;
}

import type { Voice } from "../../../core/document/index.ts";
import { visibleLanes } from "../../../store/bench/bench-selectors.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";

/** All in px, from the top of the lanes. */
export interface LaneBox {
  readonly voice: Voice;
  readonly top: number;
  readonly height: number;
  /** The line the fins stand on. */
  readonly base: number;
  /** How tall the loudest fin is. */
  readonly finHeight: number;
  /** Only for an open lane. */
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
const USUAL_PX = 44;
/** A closed lane grows to this where the screen has room for it. */
const TALLEST_PX = 72;
/** So many closed lanes are in sight in any window, as far as they can be so low. */
const SEEN_TOGETHER = 5;
/** Room that growing lanes leave, so that opening one moves none of them and the open one is in sight. */
const OPEN_LANE_PX = 300;
export const LOWEST_PX = 20;
export const TALLEST_CLOSED_PX = 240;
/** Lower lanes keep less room under the line, and none for the recorded ticks. */
const LOW_PX = 36;
export const FIELD_PX = { least: 80, usual: 132, most: 420 };
const RECORDED_STRIP = 16;
const RAIL_REACH = 28;
export const ARTICULATION_HEIGHT = 17;
/** The drift rail reaches this far up (late) and down (early). */
export const RAIL_MS = 40;

/** What decides how tall lanes are. */
export type LaneLook = Pick<BenchState, "openVoiceId" | "keptOpen" | "laneZoom" | "laneSizes" | "lanesViewPx">;

/**
 * Stacks the lanes, and the open ones among them with their velocity field, drift rail and articulations. Closed lanes grow where the
 * screen has plenty of room.
 */
export function layoutLanes(lanes: readonly Pick<LaneView, "voice">[], look: LaneLook): readonly LaneBox[] {
  const closedPx = usualPx(look, lanes.length) * look.laneZoom;
  let top = 0;
  return lanes.map(({ voice }) => {
    const size = look.laneSizes.get(voice.id);
    const box = isOpen(look, voice.id)
      ? openLane(voice, top, size?.fieldPx ?? FIELD_PX.usual * look.laneZoom)
      : closedLane(voice, top, size?.closedPx ?? closedPx);
    top += box.height;
    return box;
  });
}

export function isOpen(
  { openVoiceId, keptOpen }: Pick<LaneLook, "openVoiceId" | "keptOpen">,
  voiceId: string,
): boolean {
  return voiceId === openVoiceId || keptOpen.has(voiceId);
}

/** Where the lanes that are not put away stand now. */
export function boxesOf(state: Pick<BenchState, "lanes" | "hidden"> & LaneLook): readonly LaneBox[] {
  return layoutLanes(visibleLanes(state), state);
}

/** As tall as a closed lane is at its usual size: as fits beside an open one, from usual to tallest. */
export function usualPx({ lanesViewPx }: Pick<LaneLook, "lanesViewPx">, laneCount: number): number {
  const share = Math.floor((lanesViewPx - OPEN_LANE_PX) / Math.max(1, laneCount));
  // In a low window, as at twice the size, some lanes are still seen together. Before it is measured, none is low.
  const least = lanesViewPx > 0 ? Math.min(USUAL_PX, Math.floor(lanesViewPx / SEEN_TOGETHER)) : USUAL_PX;
  return Math.min(TALLEST_PX, Math.max(least, share));
}

function closedLane(voice: Voice, top: number, wantedPx: number): LaneBox {
  const height = Math.round(Math.max(LOWEST_PX, Math.min(TALLEST_CLOSED_PX, wantedPx)));
  const below = height < LOW_PX ? 5 : 11;
  return { voice, top, height, base: top + height - below, finHeight: height - below - 5, open: null };
}

function openLane(voice: Voice, top: number, wantedFieldPx: number): LaneBox {
  const fieldPx = Math.round(Math.max(FIELD_PX.least, Math.min(FIELD_PX.most, wantedFieldPx)));
  const fieldTop = top + 10;
  const base = fieldTop + fieldPx;
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
    finHeight: fieldPx - 6,
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

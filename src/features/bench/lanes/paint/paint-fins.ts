import { ARTICULATION_MARKS, type ArticulationMark, ROLES } from "../../../../core/document/index.ts";
import { rowsBetween } from "../../../../store/bench/rows-between.ts";
import { tickToX, type Viewport } from "../../../../store/bench/viewport.ts";
import type { LaneBox } from "../lane-layout.ts";
import type { Inks } from "./inks.ts";
import { ALWAYS_PLAYED, BIT } from "./picture.ts";

/** Only what painting needs, so that a test can pass a recorder instead of a canvas. */
export type PaintContext = Pick<
  CanvasRenderingContext2D,
  | "beginPath"
  | "moveTo"
  | "lineTo"
  | "quadraticCurveTo"
  | "closePath"
  | "rect"
  | "arc"
  | "fill"
  | "stroke"
  | "fillRect"
  | "clearRect"
  | "fillText"
  | "strokeText"
  | "measureText"
  | "setLineDash"
> & {
  fillStyle: unknown;
  strokeStyle: unknown;
  lineWidth: number;
  globalAlpha: number;
  font: string;
  textBaseline: unknown;
  textAlign: unknown;
};

/** What is painted of one lane, as columns. Row i of every column is one hit. */
export interface FinRow {
  readonly ticks: Float64Array;
  readonly velocities: Uint8Array;
  readonly recordedTicks: Float64Array;
  /** Places in `ROLES`. */
  readonly roles: Uint8Array;
  /** Places in `ARTICULATION_MARKS`. */
  readonly marks: Uint8Array;
  /** How long each hit rings until something stops it, in ticks; infinite if nothing does. */
  readonly ringTicks: Float64Array;
  /** Where the next hit of the lane is, if this row holds only some of its hits. */
  readonly nextTicks: Float64Array | null;
  /** Of `BIT`. */
  readonly bits: Uint8Array;
  /** How often each hit is played, in percent, or `ALWAYS_PLAYED`. Null if all are played always. */
  readonly chances: Uint8Array | null;
}

const GHOST = ROLES.indexOf("ghost");
const ACCENT = ROLES.indexOf("accent");
const OPEN = ARTICULATION_MARKS.indexOf("open");
const HALF_OPEN = ARTICULATION_MARKS.indexOf("half-open");
const WIDEST_FIN_PX = 19;
const NARROWEST_FIN_PX = 2;
const CLOSEST_FINS_PX = 4;
const STOP_HEIGHT_PX = 9;

/**
 * Paints the fins of one lane. It runs on every scrolled frame, so it looks at no hit out of view and makes no object per
 * hit. Where hits are denser than pixels, only the tallest of a pixel column is drawn.
 */
export function paintFins(
  context: PaintContext,
  row: FinRow,
  box: LaneBox,
  viewport: Viewport,
  ink: string,
  inks: Inks,
): void {
  const { ticks } = row;
  const firstTick = viewport.startTick - WIDEST_FIN_PX * viewport.ticksPerPx;
  const lastTick = viewport.startTick + viewport.widthPx * viewport.ticksPerPx;
  const { first, end } = rowsBetween(ticks, firstTick, lastTick);
  if (isDense(end - first, viewport)) {
    paintDense(context, row, box, viewport, ink, first, end);
    return;
  }
  paintPicked(context, row, box, viewport, inks, first, end);
  paintRecorded(context, row, box, viewport, inks, first, end);

  context.fillStyle = ink;
  context.strokeStyle = ink;
  context.lineWidth = 1.4;
  // Fills and outlines go into one path each: a path per hit made scrolling three times slower.
  context.beginPath();
  for (let at = first; at < end; at++) {
    if (row.roles[at] !== GHOST && !isHollow(row, at) && !is(row, at, BIT.muted) && isAlways(row, at))
      traceFin(context, row, box, viewport, at);
  }
  context.fill();
  context.beginPath();
  let hasMuted = false;
  for (let at = first; at < end; at++) {
    if (is(row, at, BIT.muted)) hasMuted = true;
    else if (!isAlways(row, at)) continue;
    else if (row.marks[at] === OPEN) traceOpenTail(context, row, box, viewport, at);
    else if (row.roles[at] === GHOST || isHollow(row, at)) traceFin(context, row, box, viewport, at);
  }
  context.stroke();
  if (row.chances) paintSometimes(context, row, box, viewport, first, end);
  if (hasMuted) paintMuted(context, row, box, viewport, first, end);
  for (let at = first; at < end; at++) {
    if (is(row, at, BIT.muted)) continue;
    const x = tickToX(viewport, ticks[at]!);
    const top = box.base - heightAt(row, box, at);
    if (row.roles[at] === ACCENT) context.fillRect(x - 1, Math.max(box.top + 1, top - 4), 8, 2.5);
    if (isHollow(row, at)) context.fillRect(x, top, 2.2, box.base - top);
    else if (row.ringTicks[at] !== Number.POSITIVE_INFINITY) paintStop(context, row, box, viewport, at);
    paintMark(context, ARTICULATION_MARKS[row.marks[at]!]!, x, top, box);
    if (is(row, at, BIT.pinned)) paintPin(context, x, box, inks, ink);
    if (is(row, at, BIT.flagged)) paintFlag(context, x, top, box, inks, ink);
  }
}

/** What a hand has muted is only dotted. */
function paintMuted(
  context: PaintContext,
  row: FinRow,
  box: LaneBox,
  viewport: Viewport,
  first: number,
  end: number,
): void {
  context.setLineDash([1.5, 2.5]);
  context.beginPath();
  for (let at = first; at < end; at++) if (is(row, at, BIT.muted)) traceFin(context, row, box, viewport, at);
  context.stroke();
  context.setLineDash([]);
}

const DASH_PX = [4, 2.5];
/** How much of the ink is left where a hit is not played always. */
const SOMETIMES_SHARE = 0.4;
const LABEL_ROOM_PX = 34;
const LABELLED_FROM_PX = 60;

/** What is not played always has a broken outline, and stands back; an open lane says how often it is played. */
function paintSometimes(
  context: PaintContext,
  row: FinRow,
  box: LaneBox,
  viewport: Viewport,
  first: number,
  end: number,
): void {
  const { globalAlpha } = context;
  const trace = (isWanted: (at: number) => boolean) => {
    context.beginPath();
    for (let at = first; at < end; at++) {
      if (!isAlways(row, at) && !is(row, at, BIT.muted) && isWanted(at)) traceFin(context, row, box, viewport, at);
    }
  };
  trace((at) => row.roles[at] !== GHOST && !isHollow(row, at));
  context.globalAlpha = globalAlpha * SOMETIMES_SHARE;
  context.fill();
  context.globalAlpha = globalAlpha;
  context.setLineDash(DASH_PX);
  trace(() => true);
  context.stroke();
  context.setLineDash([]);
  if (box.finHeight < LABELLED_FROM_PX) return;
  context.textAlign = "left";
  context.textBaseline = "alphabetic";
  for (let at = first; at < end; at++) {
    const chance = row.chances![at]!;
    const room = (nextTick(row, at) - row.ticks[at]!) / viewport.ticksPerPx;
    if (chance >= 100 || room < LABEL_ROOM_PX) continue;
    const x = tickToX(viewport, row.ticks[at]!);
    context.fillText(`${chance} %`, x + 3, Math.max(box.top + 10, box.base - heightAt(row, box, at) - 4));
  }
}

const isAlways = (row: FinRow, at: number) => !row.chances || row.chances[at] === ALWAYS_PLAYED;

function is(row: FinRow, at: number, bit: number): boolean {
  return (row.bits[at]! & bit) !== 0;
}

/** Open and half-open hats are hollow; only open ones have a tail. */
function isHollow(row: FinRow, at: number): boolean {
  return row.marks[at] === OPEN || row.marks[at] === HALF_OPEN;
}

/** Whether so many hits in view are too near to be drawn one by one. */
export function isDense(count: number, viewport: Viewport): boolean {
  return count * CLOSEST_FINS_PX > viewport.widthPx;
}

function heightAt(row: FinRow, box: LaneBox, at: number): number {
  return Math.max(2, (row.velocities[at]! / 127) * box.finHeight);
}

/** Where the next hit of the lane is; infinite after the last. */
function nextTick(row: FinRow, at: number): number {
  return (row.nextTicks ? row.nextTicks[at] : row.ticks[at + 1]) ?? Number.POSITIVE_INFINITY;
}

/** A fin narrows when its neighbour is near. */
function finWidth(row: FinRow, viewport: Viewport, at: number): number {
  const next = (nextTick(row, at) - row.ticks[at]!) / viewport.ticksPerPx;
  return Math.max(NARROWEST_FIN_PX, Math.min(WIDEST_FIN_PX, next - 1.5));
}

/** A sharp upright edge at the exact time, falling away to the right like the sound of a drum. */
function traceFin(context: PaintContext, row: FinRow, box: LaneBox, viewport: Viewport, at: number): void {
  const x = tickToX(viewport, row.ticks[at]!);
  const height = heightAt(row, box, at);
  const width = finWidth(row, viewport, at);
  context.moveTo(x, box.base);
  context.lineTo(x, box.base - height);
  context.quadraticCurveTo(x + width * 0.2, box.base - height * 0.12, x + width, box.base);
  context.closePath();
}

/** An open hat rings until the foot, a hand or the next stroke closes it. */
function traceOpenTail(context: PaintContext, row: FinRow, box: LaneBox, viewport: Viewport, at: number): void {
  const x = tickToX(viewport, row.ticks[at]!);
  const height = heightAt(row, box, at);
  const tick = row.ticks[at]!;
  const endTick = Math.min(nextTick(row, at), tick + row.ringTicks[at]!);
  const isEndless = endTick === Number.POSITIVE_INFINITY;
  const endX = Math.max(x + 3, Math.min(isEndless ? x + 60 : tickToX(viewport, endTick) - 1, x + 220));
  context.moveTo(x, box.base);
  context.lineTo(x, box.base - height);
  context.quadraticCurveTo(x + (endX - x) * 0.3, box.base - height * 0.45, endX, box.base - height * 0.3);
  context.lineTo(endX, box.base);
  context.closePath();
}

function paintDense(
  context: PaintContext,
  row: FinRow,
  box: LaneBox,
  viewport: Viewport,
  ink: string,
  first: number,
  end: number,
): void {
  context.fillStyle = ink;
  let column = Number.NEGATIVE_INFINITY;
  let tallest = 0;
  for (let at = first; at < end; at++) {
    const x = Math.floor(tickToX(viewport, row.ticks[at]!));
    if (x !== column) {
      if (tallest > 0) context.fillRect(column, Math.round(box.base - tallest), 1, Math.round(tallest));
      column = x;
      tallest = 0;
    }
    tallest = Math.max(tallest, heightAt(row, box, at));
  }
  if (tallest > 0) context.fillRect(column, Math.round(box.base - tallest), 1, Math.round(tallest));
}

function paintPicked(
  context: PaintContext,
  row: FinRow,
  box: LaneBox,
  viewport: Viewport,
  inks: Inks,
  first: number,
  end: number,
): void {
  context.fillStyle = inks["amber-tint"];
  context.strokeStyle = inks.amber;
  context.lineWidth = 1;
  for (let at = first; at < end; at++) {
    if (!is(row, at, BIT.picked)) continue;
    const x = tickToX(viewport, row.ticks[at]!);
    const height = heightAt(row, box, at);
    const width = Math.max(8, finWidth(row, viewport, at) + 5);
    context.beginPath();
    context.rect(x - 3.5, box.base - height - 6.5, width, height + 8);
    context.fill();
    context.stroke();
  }
}

/** The recorded edge stays as a thin tick under the line, joined to its fin where that has moved. */
function paintRecorded(
  context: PaintContext,
  row: FinRow,
  box: LaneBox,
  viewport: Viewport,
  inks: Inks,
  first: number,
  end: number,
): void {
  context.strokeStyle = inks.muted;
  context.lineWidth = 1;
  context.beginPath();
  for (let at = first; at < end; at++) {
    const x = tickToX(viewport, row.ticks[at]!);
    const recordedX = tickToX(viewport, row.recordedTicks[at]!);
    context.moveTo(recordedX + 0.5, box.base + 3);
    context.lineTo(recordedX + 0.5, box.base + 8);
    if (Math.abs(x - recordedX) < 0.75) continue;
    context.moveTo(recordedX + 0.5, box.base + 3);
    context.lineTo(x + 0.5, box.base);
  }
  context.stroke();
}

function paintMark(context: PaintContext, mark: ArticulationMark, x: number, top: number, box: LaneBox): void {
  switch (mark) {
    case "foot":
      context.fillRect(x - 3, box.base + 1, 7, 2);
      return;
    case "rim":
      context.fillRect(x - 3, top + 5, 9, 1.8);
      return;
    case "bell":
      context.beginPath();
      context.arc(x + 1, top - 3, 2.6, 0, 2 * Math.PI);
      context.fill();
      return;
    case "edge":
      context.fillRect(x + 3.5, top, 1.6, (box.base - top) * 0.5);
      return;
    case "cross":
      context.beginPath();
      context.moveTo(x - 3, top - 5);
      context.lineTo(x + 3, top + 1);
      context.moveTo(x + 3, top - 5);
      context.lineTo(x - 3, top + 1);
      context.stroke();
      return;
    case "none":
    case "open":
    case "half-open":
      return;
    default:
      mark satisfies never;
  }
}

/** Where a hand has choked a cymbal: an upright end on a thin line from its stroke, if no other stroke comes first. */
function paintStop(context: PaintContext, row: FinRow, box: LaneBox, viewport: Viewport, at: number): void {
  const endTick = row.ticks[at]! + row.ringTicks[at]!;
  if (endTick >= nextTick(row, at)) return;
  const x = tickToX(viewport, row.ticks[at]!);
  const endX = tickToX(viewport, endTick);
  context.fillRect(x, box.base - 1.5, endX - x, 1.5);
  context.fillRect(endX, box.base - STOP_HEIGHT_PX, 2, STOP_HEIGHT_PX);
}

/** What a hand has put somewhere stands on a small foot. */
function paintPin(context: PaintContext, x: number, box: LaneBox, inks: Inks, ink: string): void {
  context.fillStyle = inks.ink;
  context.beginPath();
  context.moveTo(x, box.base);
  context.lineTo(x + 3.5, box.base + 5);
  context.lineTo(x - 3.5, box.base + 5);
  context.closePath();
  context.fill();
  context.fillStyle = ink;
}

function paintFlag(context: PaintContext, x: number, top: number, box: LaneBox, inks: Inks, ink: string): void {
  context.strokeStyle = inks.amber;
  context.lineWidth = 1.6;
  context.beginPath();
  // Not above its lane, which may be repainted without the one over it.
  context.arc(x + 1, Math.max(box.top + 5, top - 8), 3, 0, 2 * Math.PI);
  context.stroke();
  context.strokeStyle = ink;
  context.lineWidth = 1.4;
}

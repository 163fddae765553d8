import { FAMILIES, type Family } from "../../../../core/document/index.ts";
import { layerAt } from "../../../../core/dynamics/index.ts";
import { gridName, gridStepTicks, slotsBetween, ticksToMs } from "../../../../core/time/index.ts";
import { rowsBetween } from "../../../../store/bench/rows-between.ts";
import { tickToX, xToTick } from "../../../../store/bench/viewport.ts";
import { finHeightOf, type LaneBox, type OpenBox, RAIL_MS } from "../lane-layout.ts";
import { CANVAS_FONT } from "./inks.ts";
import { paintCells } from "./paint-cells.ts";
import { type FinRow, isDense, type PaintContext, paintFins } from "./paint-fins.ts";
import { forBarsInView, gridLinesOfBar } from "./paint-grid.ts";
import { BIT, type LanePicture, type ScenePicture } from "./picture.ts";

/** What of the whole picture the lanes need. */
export type LanesScene = Pick<
  ScenePicture,
  "boxes" | "maps" | "lengthTicks" | "viewport" | "fadesOthers" | "isDrawing" | "showsCells" | "inks"
>;

const FADED = 0.35;

/**
 * Paints the lanes.
 * @param before the lanes that the canvas shows, if nothing but what is in the lanes has changed since; then only those
 * that differ are painted anew. A drag of one lane's setting changes one lane.
 */
export function paintLanes(
  context: PaintContext,
  scene: LanesScene,
  lanes: readonly LanePicture[],
  before: readonly LanePicture[] | null,
): void {
  for (const [index, lane] of lanes.entries()) {
    if (before?.[index] === lane) continue;
    const box = scene.boxes[index]!;
    if (before) context.clearRect(0, box.top, scene.viewport.widthPx, box.height);
    context.globalAlpha = 1;
    paintGround(context, scene, lane, box);
    context.globalAlpha = lane.isClear ? 1 : FADED;
    paintLane(context, scene, lane, box);
  }
  context.globalAlpha = 1;
}

function paintGround(context: PaintContext, scene: LanesScene, lane: LanePicture, box: LaneBox): void {
  const { viewport, inks, maps, lengthTicks } = scene;
  const { widthPx } = viewport;
  if (box.open) {
    context.fillStyle = inks.sheet;
    context.fillRect(0, box.top, widthPx, box.height);
    paintRoleBands(context, scene, lane, box, box.open);
    paintKitLayers(context, scene, lane, box);
  }
  if (scene.showsCells) paintCells(context, scene, lane, box);
  const grid = box.open || scene.isDrawing ? lane.handGrid : null;
  const { stretches = [] } = lane;
  forBarsInView(viewport, maps.meterMap, lengthTicks, 10, (bar) => {
    gridLinesOfBar(bar, viewport, maps.meterMap.ppq, grid, (x, isPulse) => {
      // Where another grid is followed, its slots are drawn instead.
      const tick = viewport.startTick + x * viewport.ticksPerPx;
      if (!isPulse && stretches.some(({ startTick, endTick }) => tick >= startTick && tick < endTick)) return;
      // What is drawn on is seen as such, not guessed.
      const isDrawnOn = scene.isDrawing && !isPulse;
      context.fillStyle = isDrawnOn ? inks.spruce : inks[isPulse ? "line-beat" : "line-step"];
      context.globalAlpha = isDrawnOn ? 0.4 : 1;
      context.fillRect(Math.round(x), box.top, 1, box.height);
    });
    context.globalAlpha = 1;
    context.fillStyle = inks["line-bar"];
    context.fillRect(Math.round(tickToX(viewport, bar.startTick)), box.top, 1, box.height);
  });
  if (box.open) paintStretches(context, scene, lane, box, box.open);
  context.fillStyle = inks["line-bar"];
  context.fillRect(Math.round(tickToX(viewport, lengthTicks)), box.top, 2, box.height);
  context.fillRect(0, Math.round(box.base), widthPx, 1);
  context.fillStyle = inks.hairline;
  context.fillRect(0, box.top + box.height - 1, widthPx, 1);
}

/** Stretches on another grid: its slots, under a line that says which grid it is. */
function paintStretches(
  context: PaintContext,
  scene: LanesScene,
  lane: LanePicture,
  box: LaneBox,
  open: OpenBox,
): void {
  const { viewport, inks, maps } = scene;
  const lastTick = viewport.startTick + viewport.widthPx * viewport.ticksPerPx;
  for (const { startTick, endTick, grid } of lane.stretches ?? []) {
    if (endTick < viewport.startTick || startTick > lastTick) continue;
    const [left, right] = [tickToX(viewport, startTick), tickToX(viewport, endTick)];
    context.fillStyle = inks.spruce;
    if (gridStepTicks(grid, maps.meterMap.ppq) / viewport.ticksPerPx >= CLOSEST_SLOTS_PX) {
      context.globalAlpha = 0.35;
      for (const slot of slotsBetween(grid, maps.meterMap, startTick, endTick)) {
        context.fillRect(Math.round(tickToX(viewport, slot)), box.top, 1, box.height);
      }
      context.globalAlpha = 1;
    }
    context.fillRect(left, open.fieldTop - 4, Math.max(2, right - left - 1), 3);
    context.font = `600 ${inks.fine} ${CANVAS_FONT}`;
    context.textBaseline = "top";
    context.textAlign = "left";
    const words = gridName(grid);
    if (context.measureText(words).width < right - left + ROOM_FOR_WORDS_PX)
      context.fillText(words, left + 2, open.fieldTop + 1);
  }
}

const CLOSEST_SLOTS_PX = 5;
/** The name of a grid may stand out of its stretch by so much. */
const ROOM_FOR_WORDS_PX = 60;

/** Ghost and accent bands are tinted, with a dashed border that the lane's head names. */
function paintRoleBands(
  context: PaintContext,
  { viewport, inks }: LanesScene,
  lane: LanePicture,
  box: LaneBox,
  open: OpenBox,
): void {
  const { ghostTop, accentBottom } = lane.roleBorders;
  context.fillStyle = inks["spruce-tint"];
  context.strokeStyle = inks.spruce;
  context.lineWidth = 1;
  context.globalAlpha = 0.6;
  const border = (velocity: number) => Math.round(box.base - finHeightOf(box, velocity)) + 0.5;
  if (ghostTop > 0) context.fillRect(0, border(ghostTop), viewport.widthPx, box.base - border(ghostTop));
  if (accentBottom < 128) context.fillRect(0, open.fieldTop, viewport.widthPx, border(accentBottom) - open.fieldTop);
  context.globalAlpha = 1;
  context.setLineDash([2, 3]);
  context.beginPath();
  for (const velocity of [ghostTop, accentBottom]) {
    if (velocity === 0 || velocity === 128) continue;
    context.moveTo(0, border(velocity));
    context.lineTo(viewport.widthPx, border(velocity));
  }
  context.stroke();
  context.setLineDash([]);
}

/**
 * Where the kit changes its sound: a short step at the end of the field, so that it does not read as a role border. The layers that
 * the selected hits sound are lit. Where a kit has so many that their names would lie over one another, only some are named.
 */
function paintKitLayers(context: PaintContext, { viewport, inks }: LanesScene, lane: LanePicture, box: LaneBox): void {
  const lit = new Set<number>();
  const { first, end } = rowsBetween(lane.ticks, viewport.startTick, xToTick(viewport, viewport.widthPx));
  for (let row = first; row < end; row++) {
    if ((lane.bits[row]! & BIT.picked) !== 0) lit.add(layerAt(lane.layerBorders, lane.velocities[row]!));
  }
  context.textAlign = "right";
  context.strokeStyle = inks.sheet;
  context.lineWidth = 4;
  const tops = [...lane.layerBorders, 127].map((velocity) => Math.round(box.base - finHeightOf(box, velocity)));
  // Lit ones are named before the others take their room.
  const order = [...tops.keys()].sort((one, other) => Number(lit.has(other)) - Number(lit.has(one)) || one - other);
  const named: number[] = [];
  for (const layer of order) {
    const y = tops[layer]!;
    const isLit = lit.has(layer);
    const bottom = layer === 0 ? box.base : tops[layer - 1]!;
    context.fillStyle = isLit ? inks.amber : inks.muted;
    if (isLit) context.fillRect(viewport.widthPx - 4, y, 4, bottom - y);
    if (layer < tops.length - 1) context.fillRect(viewport.widthPx - LAYER_STEP_PX, y, LAYER_STEP_PX, 1);
    if (named.some((other) => Math.abs(other - y) < LAYER_NAME_PX)) continue;
    named.push(y);
    context.fillStyle = isLit ? inks.ink : inks.muted;
    context.font = `${isLit ? 700 : 400} ${inks.fine} ${CANVAS_FONT}`;
    context.textBaseline = "top";
    // Over borders of roles, which may go right through it.
    context.strokeText(`layer ${layer + 1}`, viewport.widthPx - 6, y + 2);
    context.fillText(`layer ${layer + 1}`, viewport.widthPx - 6, y + 2);
  }
}

const LAYER_STEP_PX = 46;
const LAYER_NAME_PX = 14;

function paintLane(context: PaintContext, scene: LanesScene, lane: LanePicture, box: LaneBox): void {
  const { viewport, inks, fadesOthers } = scene;
  const row: FinRow = { ...lane, nextTicks: null };
  if (!lane.hitInks && !lane.isShaded && !fadesOthers) paintFins(context, row, box, viewport, inks[lane.ink], inks);
  else {
    const full = context.globalAlpha;
    for (const { ink, isFaded, strength, rows } of groupsOf(lane, fadesOthers)) {
      context.globalAlpha = full * strength * (isFaded ? STANDING_BACK : 1);
      paintFins(context, someOf(row, rows), box, viewport, inks[ink], inks);
    }
    context.globalAlpha = full;
  }
  if (box.open) {
    if (lane.isCleaned) paintRecordedLoudness(context, scene, lane, box);
    paintRail(context, scene, lane, box.open, inks[lane.ink]);
    paintArticulations(context, scene, lane, box.open, inks[lane.ink]);
  }
}

/** Where the loudness goes out otherwise than it was recorded, a short line beside the fin says how loud that was. */
function paintRecordedLoudness(context: PaintContext, scene: LanesScene, lane: LanePicture, box: LaneBox): void {
  const { viewport, inks } = scene;
  const { ticks, velocities } = lane;
  const lastTick = viewport.startTick + viewport.widthPx * viewport.ticksPerPx;
  const { first, end } = rowsBetween(ticks, viewport.startTick, lastTick);
  if (isDense(end - first, viewport)) return;
  context.fillStyle = inks.ink;
  for (let at = first; at < end; at++) {
    const recorded = lane.recordedVelocities[at]!;
    if (recorded === velocities[at]) continue;
    const y = Math.round(box.base - finHeightOf(box, recorded));
    context.fillRect(tickToX(viewport, ticks[at]!) - RECORDED_LINE_PX, y, RECORDED_LINE_PX, 1.5);
  }
}

const RECORDED_LINE_PX = 6;

const STANDING_BACK = 0.22;

/** Rows that are painted alike. */
interface RowGroup {
  readonly ink: Family;
  readonly isFaded: boolean;
  /** Of the ink, 0 to 1. */
  readonly strength: number;
  readonly rows: readonly number[];
}

/** Strengths of ink from the softest fifth of velocities to the loudest: what is soft is still seen. */
const SHADES = [0.4, 0.55, 0.7, 0.85, 1] as const;

const shadeOf = (velocity: number) => Math.min(SHADES.length - 1, Math.floor((velocity / 128) * SHADES.length));

/**
 * The rows of a lane by ink, in the order of the families so that they lie over one another the same way, and by strength where that
 * says how loud they are; those that stand back first.
 */
export function groupsOf(
  {
    hitInks,
    isShaded,
    velocities,
    bits,
    ink: ownInk,
  }: Pick<LanePicture, "hitInks" | "isShaded" | "velocities" | "bits" | "ink">,
  fadesOthers: boolean,
): readonly RowGroup[] {
  const strengths = isShaded ? SHADES : [1];
  const groups = FAMILIES.flatMap((ink) =>
    [true, false].flatMap((isFaded) => strengths.map((strength) => ({ ink, isFaded, strength, rows: [] as number[] }))),
  );
  const own = FAMILIES.indexOf(ownInk);
  for (let at = 0; at < bits.length; at++) {
    const isClear = !fadesOthers || (bits[at]! & BIT.picked) !== 0;
    const place = 2 * (hitInks ? hitInks[at]! : own) + (isClear ? 1 : 0);
    groups[place * strengths.length + (isShaded ? shadeOf(velocities[at]!) : 0)]!.rows.push(at);
  }
  return groups.filter(({ rows }) => rows.length > 0);
}

/** Some rows of a lane, which still narrow where any neighbour in the lane is near. */
function someOf(row: FinRow, rows: readonly number[]): FinRow {
  const pickOf = (column: Float64Array) => Float64Array.from(rows, (at) => column[at]!);
  const bytesOf = (column: Uint8Array) => Uint8Array.from(rows, (at) => column[at]!);
  return {
    ...row,
    ticks: pickOf(row.ticks),
    velocities: bytesOf(row.velocities),
    recordedTicks: pickOf(row.recordedTicks),
    roles: bytesOf(row.roles),
    ringTicks: pickOf(row.ringTicks),
    nextTicks: Float64Array.from(rows, (at) => row.ticks[at + 1] ?? Number.POSITIVE_INFINITY),
    marks: bytesOf(row.marks),
    bits: bytesOf(row.bits),
    chances: row.chances && bytesOf(row.chances),
  };
}

/** Each hit a dot, late above and early below the zero line: a ring where it was recorded, filled where it goes. */
function paintRail(context: PaintContext, scene: LanesScene, lane: LanePicture, open: OpenBox, ink: string): void {
  const { viewport, inks, maps } = scene;
  const y = (driftMs: number) =>
    open.railZero - (Math.max(-RAIL_MS, Math.min(RAIL_MS, driftMs)) / RAIL_MS) * open.railReach;
  if (lane.meanDriftMs !== null) {
    context.fillStyle = inks.hairline;
    context.globalAlpha *= 0.4;
    const top = y(lane.meanDriftMs + lane.spreadMs);
    context.fillRect(0, top, viewport.widthPx, y(lane.meanDriftMs - lane.spreadMs) - top);
    context.globalAlpha = lane.isClear ? 1 : FADED;
  }
  context.fillStyle = inks.ink;
  context.fillRect(0, Math.round(open.railZero), viewport.widthPx, 1);
  context.strokeStyle = ink;
  context.fillStyle = ink;
  context.lineWidth = 1.2;
  const firstTick = viewport.startTick;
  const lastTick = firstTick + viewport.widthPx * viewport.ticksPerPx;
  const { cleanedTicks: ticks, slotTicks } = lane;
  const { first, end } = rowsBetween(ticks, firstTick, lastTick);
  const msOf = (column: Float64Array) => ticksToMs(maps.tempoMap, column.subarray(first, end));
  const [slotsMs, cleanedMs, recordedMs] = [msOf(slotTicks), msOf(ticks), msOf(lane.recordedTicks)];
  const isBand = isDense(end - first, viewport);
  // Where dots would be denser than pixels, one upright mark a column spans from the earliest to the latest of them.
  let column = Number.NaN;
  let top = 0;
  let bottom = 0;
  for (let at = first; at < end; at++) {
    const tick = ticks[at]!;
    const slotMs = slotsMs[at - first]!;
    const x = tickToX(viewport, tick) + 0.5;
    const cleanedY = y(cleanedMs[at - first]! - slotMs);
    if (isBand) {
      if (Math.floor(x) !== column) {
        if (!Number.isNaN(column)) context.fillRect(column, top - 1, 1, bottom - top + 2);
        column = Math.floor(x);
        top = cleanedY;
        bottom = cleanedY;
      }
      top = Math.min(top, cleanedY);
      bottom = Math.max(bottom, cleanedY);
      continue;
    }
    if (lane.isTreated) {
      context.beginPath();
      context.arc(x, y(recordedMs[at - first]! - slotMs), 2.6, 0, 2 * Math.PI);
      context.stroke();
    }
    context.beginPath();
    context.arc(x, cleanedY, 3, 0, 2 * Math.PI);
    context.fill();
  }
  if (!Number.isNaN(column)) context.fillRect(column, top - 1, 1, bottom - top + 2);
}

function paintArticulations(
  context: PaintContext,
  { viewport, inks }: LanesScene,
  lane: LanePicture,
  open: OpenBox,
  ink: string,
): void {
  const { ticks } = lane;
  context.fillStyle = inks.hairline;
  for (const { middle } of open.articulations) context.fillRect(0, Math.round(middle), viewport.widthPx, 1);
  context.fillStyle = ink;
  const lastTick = viewport.startTick + viewport.widthPx * viewport.ticksPerPx;
  /** One mark a pixel in each row, however many hits. */
  const columns = new Float64Array(open.articulations.length).fill(Number.NaN);
  const { first, end } = rowsBetween(ticks, viewport.startTick, lastTick);
  for (let at = first; at < end; at++) {
    const row = lane.articulationRows[at]!;
    const column = Math.round(tickToX(viewport, ticks[at]!));
    if (row === -1 || columns[row] === column) continue;
    columns[row] = column;
    context.fillRect(column, open.articulations[row]!.middle - 4.5, 2, 9);
  }
}

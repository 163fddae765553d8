/** Which stretch of the pattern a canvas shows. */
export interface Viewport {
  /** May be negative: a little room before bar 1. */
  readonly startTick: number;
  readonly ticksPerPx: number;
  readonly widthPx: number;
}

export function tickToX(viewport: Viewport, tick: number): number {
  return (tick - viewport.startTick) / viewport.ticksPerPx;
}

export function xToTick(viewport: Viewport, x: number): number {
  return viewport.startTick + x * viewport.ticksPerPx;
}

/** Room before bar 1, so that its first hit is not glued to the edge. */
const MARGIN_PX = 14;
const CLOSEST_TICKS_PER_PX = 0.25;

/** Room past the end, as a share of what is shown, in which a take can be gone on with. */
const ROOM_TO_WRITE = 0.25;

/** Keeps a viewport on the pattern: not farther out than all of it, not far past its ends. */
export function limitViewport(viewport: Viewport, lengthTicks: number): Viewport {
  const { widthPx } = viewport;
  const farthest = Math.max(CLOSEST_TICKS_PER_PX, lengthTicks / Math.max(1, widthPx - 2 * MARGIN_PX));
  const ticksPerPx = Math.min(farthest, Math.max(CLOSEST_TICKS_PER_PX, viewport.ticksPerPx));
  const marginTicks = MARGIN_PX * ticksPerPx;
  const lastStart = Math.max(-marginTicks, lengthTicks + marginTicks - widthPx * (1 - ROOM_TO_WRITE) * ticksPerPx);
  return { widthPx, ticksPerPx, startTick: Math.min(lastStart, Math.max(-marginTicks, viewport.startTick)) };
}

/** Zooms so that the tick under `x` stays there. */
export function zoomAround(viewport: Viewport, x: number, factor: number, lengthTicks: number): Viewport {
  const tick = xToTick(viewport, x);
  const { ticksPerPx, widthPx } = limitViewport({ ...viewport, ticksPerPx: viewport.ticksPerPx * factor }, lengthTicks);
  return limitViewport({ widthPx, ticksPerPx, startTick: tick - x * ticksPerPx }, lengthTicks);
}

/** Shows a stretch with its margins. */
export function fitViewport(viewport: Viewport, startTick: number, endTick: number, lengthTicks: number): Viewport {
  const ticksPerPx = Math.max(1, endTick - startTick) / Math.max(1, viewport.widthPx - 2 * MARGIN_PX);
  return limitViewport({ ...viewport, ticksPerPx, startTick: startTick - MARGIN_PX * ticksPerPx }, lengthTicks);
}

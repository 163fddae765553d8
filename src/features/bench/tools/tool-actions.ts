import type { Grid } from "../../../core/time/index.ts";
import type { BenchStore } from "../../../store/bench/bench-store.ts";
import type { DrawSetting, Tool } from "../../../store/bench/write-settings.ts";

/** Takes a tool, or lays it away for selecting if it is in use. */
export function takeTool(store: BenchStore, tool: Tool): void {
  store.setTool(store.getState().tool === tool ? "select" : tool);
}

export function setDrawing(store: BenchStore, change: Partial<DrawSetting>): void {
  store.wish("drawing", change);
}

/** Shows step cells, with the tool that works them, or leaves them. */
export function toggleCells(store: BenchStore): void {
  const { tool, drawing } = store.getState();
  const isShown = tool === "draw" && drawing.showsCells;
  setDrawing(store, { showsCells: !isShown });
  store.setTool("draw");
}

export function toggleSnap(store: BenchStore): string {
  const isSnapped = !store.getState().drawing.isSnapped;
  setDrawing(store, { isSnapped });
  return isSnapped ? "Snap on: hits are drawn on the grid." : "Snap off: hits are drawn where the pointer is.";
}

/** Chooses what a lane is drawn on; null for the grid of its Quantize step. */
export function chooseDrawGrid(store: BenchStore, voiceId: string, grid: Grid | null): void {
  const drawGrids = new Map(store.getState().drawGrids);
  if (grid) drawGrids.set(voiceId, grid);
  else drawGrids.delete(voiceId);
  store.setDrawGrids(drawGrids);
}

/** Chooses which stroke is drawn in a lane; null for the one that it plays most. */
export function chooseStroke(store: BenchStore, voiceId: string, articulationId: string | null): void {
  const strokes = new Map(store.getState().drawing.strokes);
  if (articulationId) strokes.set(voiceId, articulationId);
  else strokes.delete(voiceId);
  setDrawing(store, { strokes });
}

import type { BenchState } from "../../../store/bench/bench-state.ts";

/**
 * What is said about the selection depends on this. While something is dragged the words at the pointer say it, and these follow
 * once it is still.
 */
export function selectionParts(state: BenchState): readonly unknown[] | null {
  const { picked, lanes, side, asRecorded, maps, kit, isPreviewing } = state;
  return isPreviewing ? null : [picked, lanes, side, asRecorded, maps, kit];
}

import { actWords, type ChoreAct, runChore } from "../../../core/chore/index.ts";
import { quantizeHits } from "../../../core/commands/index.ts";
import type { Edit } from "../../../core/document/index.ts";
import { ALL_HITS } from "../../../core/sift/index.ts";
import { type Grid, gridName, handGridAt, STRAIGHT_PERCENT } from "../../../core/time/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { pickedHits } from "../../../store/bench/bench-selectors.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import { hitCount, needPicked } from "../commands/actions.ts";

// What can be done with just the selected hits.

type Said = string | null | void;

function quantizeEdit(state: BenchState): Edit {
  const { grid, strengthPercent, swingPercent } = state.selectionQuantize;
  const lanes = new Map(state.lanes.map((lane) => [lane.voiceId, lane]));
  const swung = (one: Grid): Grid => {
    if (swingPercent === null) return one;
    const { family, denominator } = one;
    return swingPercent === STRAIGHT_PERCENT ? { family, denominator } : { family, denominator, swingPercent };
  };
  const gridOf = (voiceId: string) => swung(grid ?? handGridAt(lanes.get(voiceId)!.treatment.timing, 0));
  return quantizeHits(state.pattern, pickedHits(state), { strengthPercent, gridOf }, state.maps);
}

export function previewQuantize({ store }: Bench): void {
  if (store.getState().picked.size > 0) store.preview(quantizeEdit(store.getState()));
}

/** Quantizes the selection as it was done last. */
export function quantizeSelection(bench: Bench): Said {
  return needPicked(bench, (placed) => {
    const state = bench.store.getState();
    const { grid, strengthPercent } = state.selectionQuantize;
    bench.store.endPreview();
    bench.store.commit(`Quantize ${hitCount(placed.length)}`, quantizeEdit(bench.store.getState()));
    return `Quantized ${hitCount(placed.length)} ${strengthPercent} % to ${grid ? gridName(grid) : "the grid of the lane"}.`;
  });
}

/** What an act would do to the selection. */
export function previewAct({ store }: Bench, act: ChoreAct): void {
  const { pattern, picked } = store.getState();
  if (picked.size > 0) store.preview(runChore(pattern, [{ sift: ALL_HITS, acts: [act] }], picked).edit);
}

/** Does an act to the selection, as one step. */
export function applyAct(bench: Bench, act: ChoreAct): Said {
  const { store } = bench;
  store.endPreview();
  return needPicked(bench, (placed) => {
    const { pattern, picked } = store.getState();
    const { edit, changedIds, clippedCount, refusals } = runChore(pattern, [{ sift: ALL_HITS, acts: [act] }], picked);
    if (refusals.length > 0) return refusals.join(" ");
    const words = actWords(act, pattern.noteMap);
    store.commit(`${words[0]!.toUpperCase()}${words.slice(1)}: ${hitCount(placed.length)}`, edit);
    const clipped = clippedCount > 0 ? ` ${hitCount(clippedCount)} clipped.` : "";
    return changedIds.size === 0 ? "Nothing to change there." : `Changed ${hitCount(changedIds.size)}.${clipped}`;
  });
}

import { type ChoreRun, type ChoreStep, runChore } from "../../../core/chore/index.ts";
import { isEmptyEdit, type Pattern } from "../../../core/document/index.ts";
import { describeHits, type SiftLane, siftLanesOf } from "../../../core/sift/index.ts";
import type { TimeMaps } from "../../../core/time/index.ts";
import type { Bench } from "../../../store/bench-context.ts";
import type { BenchState } from "../../../store/bench-state.ts";
import type { SiftDraft } from "../../../store/sift-draft.ts";
import { hitCount } from "../actions.ts";
import { takeOutToProject } from "../lane-actions.ts";

// Rules that pick hits on the Bench, and the chores that they are made into.

type Said = string | null;

const lanesOf = new WeakMap<Pattern, readonly SiftLane[]>();

/** The lanes of what is saved, whatever is being shown of it. */
function savedLanes(pattern: Pattern, maps: TimeMaps): readonly SiftLane[] {
  const lanes = lanesOf.get(pattern) ?? siftLanesOf(pattern, maps);
  lanesOf.set(pattern, lanes);
  return lanes;
}

export function stepsOf({ sift, acts, more }: SiftDraft): readonly ChoreStep[] {
  return [{ sift, acts }, ...more];
}

/** The hits that a rule may pick, as it was told where to look; null for all. */
function amongOf({ pattern, loop, maps }: BenchState, draft: SiftDraft): ReadonlySet<string> | null {
  if (draft.within === "picked") return draft.pickedBefore;
  if (draft.within === "all" || !loop) return null;
  const inLoop = savedLanes(pattern, maps).flatMap(({ hits, cleaned }) =>
    hits.filter((_, row) => cleaned.ticks[row]! >= loop.startTick && cleaned.ticks[row]! < loop.endTick),
  );
  return new Set(inLoop.map(({ id }) => id));
}

export function runOf(state: BenchState, draft: SiftDraft): ChoreRun {
  return runChore(state.pattern, stepsOf(draft), amongOf(state, draft));
}

/** Opens the rule where it was left, or closes it. */
export function toggleSift({ store }: Bench): void {
  const { isSifting, picked, siftDraft } = store.getState();
  if (isSifting) {
    closeSift(store);
    return;
  }
  store.setState({ isSifting: true, siftDraft: { ...siftDraft, pickedBefore: picked, within: "all" } });
}

export function closeSift(store: Bench["store"]): void {
  store.endPreview();
  store.setState({ isSifting: false, fadesOthers: false });
}

/** Picks what the rules of a run let through, and shows what it would do. */
export function showRun({ store }: Bench, { pickedIds, edit }: ChoreRun): void {
  store.pick(pickedIds);
  if (isEmptyEdit(edit)) store.endPreview();
  else store.preview(edit);
}

/** Does what the acts say, as one step; what is taken out goes to projects of its own. */
export async function doChore(bench: Bench): Promise<string> {
  const { store } = bench;
  const state = store.getState();
  const { edit, pickedIds, changedIds, takenOutVoiceIds, refusals } = runOf(state, state.siftDraft);
  store.endPreview();
  if (pickedIds.size === 0) return "The rule selects no hit, so nothing was changed.";
  const label = state.siftDraft.name ?? `Change ${hitCount(changedIds.size)} by a rule`;
  const made: string[] = [];
  // Taken out first, while they still sound.
  for (const voiceId of takenOutVoiceIds) {
    const project = await takeOutToProject(bench, { voiceId, articulationId: null }, true);
    if (typeof project === "string") return project;
    made.push(`“${project.name}”`);
  }
  store.commit(label, edit);
  store.setState({ siftDraft: { ...store.getState().siftDraft, acts: [], more: [], name: null } });
  return [
    `${label}: ${hitCount(changedIds.size)} changed, of ${hitCount(pickedIds.size)} selected.`,
    ...(made.length > 0 ? [`${made.join(" and ")} is on the Shelf.`] : []),
    ...refusals,
  ].join(" ");
}

/** Finds a rule for what is picked. */
export function ruleFromPicked({ store }: Bench): Said {
  const { picked, pattern, maps, siftDraft } = store.getState();
  if (picked.size === 0) return "Select some hits first, then a rule for them can be found.";
  const sift = describeHits(picked, savedLanes(pattern, maps), maps);
  if (!sift)
    return `No plain rule selects exactly ${picked.size === 1 ? "this hit" : `these ${hitCount(picked.size)}`}.`;
  store.setState({ isSifting: true, siftDraft: { ...siftDraft, sift, within: "all", pickedBefore: picked } });
  return null;
}

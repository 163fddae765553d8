import { type Chore, type ChoreRun, type ChoreStep, runChore } from "../../../core/chore/index.ts";
import { isEmptyEdit, type Pattern } from "../../../core/document/index.ts";
import { remembering } from "../../../core/remember.ts";
import { ALL_HITS, describeHits, type SiftLane, siftLanesOf } from "../../../core/sift/index.ts";
import type { TimeMaps } from "../../../core/time/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import { changeDraft, EMPTY_DRAFT, type SiftDraft } from "../../../store/bench/sift-draft.ts";
import { hitCount } from "../commands/actions.ts";
import { takeOutToProject } from "../lanes/lane-actions.ts";

// Rules that pick hits on the Bench, and the chores that they are made into.

type Said = string | null;

const rememberLanes = remembering<Pattern, readonly SiftLane[]>();

/** The lanes of what is saved, whatever is being shown of it. */
const savedLanes = (pattern: Pattern, maps: TimeMaps) => rememberLanes(pattern, [], () => siftLanesOf(pattern, maps));

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
  const steps = stepsOf(draft);
  if (!draft.held) return runChore(state.pattern, steps, amongOf(state, draft));
  return runChore(state.pattern, [{ sift: ALL_HITS, acts: draft.acts }, ...draft.more], draft.held);
}

/** Opens the rule where it was left, or closes it. */
export function toggleSift({ store }: Bench): void {
  const { isSifting, picked, siftDraft } = store.getState();
  if (isSifting) {
    closeSift(store);
    return;
  }
  store.openSift(changeDraft(siftDraft, { pickedBefore: picked, within: picked.size > 0 ? "picked" : "all" }));
}

export function closeSift(store: Bench["store"]): void {
  store.endPreview();
  store.closeSift();
  store.setFadesOthers(false);
}

/** Picks what the rules of a run let through, and shows what it would do, unless it was just done. */
export function showRun({ store }: Bench, { pickedIds, edit }: ChoreRun): void {
  const { siftDraft } = store.getState();
  if (!siftDraft.held) store.pick(pickedIds);
  shown.set(store, store.getState().picked);
  if (siftDraft.isApplied || isEmptyEdit(edit)) store.endPreview();
  else store.preview(edit);
}

/** What a rule has picked last, by the Bench that it was picked on. */
const shown = new WeakMap<Bench["store"], ReadonlySet<string>>();

/** Keeps the selection as a hand has changed it, until the rule is asked again. */
export function holdByHand({ store }: Bench): void {
  const { isSifting, picked, siftDraft } = store.getState();
  const before = shown.get(store);
  if (!isSifting || !before || picked === before) return;
  shown.set(store, picked);
  store.setSiftDraft(changeDraft(siftDraft, { held: picked }));
}

/** Does what the acts of the open rule say, as one step. What was worked on stays selected, and can be worked on once more. */
export async function doChore(bench: Bench): Promise<string> {
  const { store } = bench;
  const { words, worked } = await doDraft(bench, store.getState().siftDraft);
  if (!worked) return words;
  // It may not fit the rule any more.
  const held = new Set(store.getState().pattern.hits.flatMap(({ id }) => (worked.has(id) ? [id] : [])));
  store.setSiftDraft({ ...store.getState().siftDraft, held, isApplied: true });
  store.pick(held);
  shown.set(store, store.getState().picked);
  return words;
}

/** Does a kept chore on all that its rule selects, without opening the rule. */
export async function runKeptChore(bench: Bench, { name, steps }: Chore): Promise<string> {
  const [first, ...more] = steps;
  if (!first) return `“${name}” says nothing to do.`;
  return (await doDraft(bench, { ...EMPTY_DRAFT, ...first, more, name })).words;
}

interface Done {
  readonly words: string;
  /** The hits it was about; null if nothing was done. */
  readonly worked: ReadonlySet<string> | null;
}

/** What is taken out goes to projects of its own. */
async function doDraft(bench: Bench, draft: SiftDraft): Promise<Done> {
  const { store } = bench;
  const { edit, pickedIds, changedIds, takenOutVoiceIds, refusals } = runOf(store.getState(), draft);
  store.endPreview();
  if (pickedIds.size === 0) return { words: "The rule selects no hit, so nothing was changed.", worked: null };
  const label = draft.name ?? `Change ${hitCount(changedIds.size)} by a rule`;
  const made: string[] = [];
  // Taken out first, while they still sound.
  for (const voiceId of takenOutVoiceIds) {
    const project = await takeOutToProject(bench, { voiceId, articulationId: null }, true);
    if (typeof project === "string") return { words: project, worked: null };
    made.push(`“${project.name}”`);
  }
  store.commit(label, edit);
  const words = [
    `${label}: ${hitCount(changedIds.size)} changed, of ${hitCount(pickedIds.size)} selected.`,
    ...(made.length > 0 ? [`${made.join(" and ")} is on the Shelf.`] : []),
    ...refusals,
  ].join(" ");
  return { words, worked: pickedIds };
}

/** Finds a rule for what is picked. */
export function ruleFromPicked({ store }: Bench): Said {
  const { picked, pattern, maps, siftDraft } = store.getState();
  if (picked.size === 0) return "Select some hits first, then a rule for them can be found.";
  const sift = describeHits(picked, savedLanes(pattern, maps), maps);
  if (!sift)
    return `No plain rule selects exactly ${picked.size === 1 ? "this hit" : `these ${hitCount(picked.size)}`}.`;
  store.openSift(changeDraft(siftDraft, { sift, within: "all", pickedBefore: picked }));
  return null;
}

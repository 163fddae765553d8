import { createContext, useContext } from "react";
import { useStore } from "zustand";
import { runAtEnd } from "../../core/document/index.ts";
import type { Playback } from "../playback/playback.ts";
import type { Recording } from "../playin/recording.ts";
import { leavePlan, type Problem, ServerProblem } from "../server-api.ts";
import type { BenchState } from "./bench-state.ts";
import type { BenchStore } from "./bench-store.ts";

export interface Bench {
  readonly store: BenchStore;
  readonly playback: Playback;
  readonly recording: Recording;
  /** Where the pointer is over the lanes; null while it is elsewhere. No state: nothing is drawn after it. */
  pointerTick: number | null;
}

export const BenchContext = createContext<Bench | null>(null);

export function useBench(): Bench {
  const bench = useContext(BenchContext);
  if (!bench) throw new Error("This part of the Bench stands outside of it.");
  return bench;
}

/** Reads a slice of the state; the component is drawn again only when the slice changes. */
export function useBenchState<Slice>(select: (state: BenchState) => Slice): Slice {
  return useStore(useBench().store, select);
}

/** What the server says against something; null if it was done. */
async function troubleOf(done: Promise<unknown>): Promise<Problem | null> {
  try {
    await done;
    return null;
  } catch (error) {
    if (!(error instanceof ServerProblem)) throw error;
    return error.problem;
  }
}

/** Whether everything is saved, what keeps it from being saved, and what can be done about it. */
export function useSaving() {
  const { store } = useBench();
  const saveState = useBenchState((state) => state.saveState);
  const otherWindows = useBenchState((state) => state.otherWindows);
  const isSeekingGrids = useBenchState((state) => state.isSeekingGrids);
  const soughtShare = useBenchState((state) => state.soughtShare);
  const projectId = useBenchState((state) => state.project.id);
  const isInTrouble = saveState.kind === "notSaving";
  return {
    saving: isInTrouble ? saveState.problem : isSeekingGrids ? ("seeking" as const) : saveState.kind,
    isKeptHere: !isInTrouble || saveState.isKeptHere,
    soughtShare,
    onLeaveSeeking: () => troubleOf(leavePlan(projectId)),
    otherWindows,
    hasUnsaved: store.hasUnsaved,
    whenSaved: store.saved,
    onRetry: store.retrySaving,
    onNotice: store.onSaveNotice,
  };
}

/** Which take is open, whether it is saved, and the way back: for the top bar of a screen. */
export function useProjectActions() {
  const bench = useBench();
  const { name, book } = useBenchState((state) => state.project);
  const saving = useSaving();
  return { name, book, saving, ...useUndoWords(), undo: () => undo(bench), redo: () => redo(bench) };
}

/** What undo and redo would do, in words; null for nothing. */
export function useUndoWords(): { readonly undoStep: string | null; readonly redoStep: string | null } {
  const undoStep = useBenchState(({ history }) => runAtEnd(history.done)?.label ?? null);
  const redoStep = useBenchState(({ history }) => runAtEnd(history.undone)?.label ?? null);
  return { undoStep, redoStep };
}

/** Takes the last step back, and says which it was. */
export function undo({ store }: Bench): string {
  const label = store.undo();
  if (label !== null) return `Undone: ${label}.`;
  // Whoever is quicker than the history has pressed the key for good reason.
  return store.waitForHistory(store.undo) ? stillRead("undone") : "There is nothing to undo.";
}

export function redo({ store }: Bench): string {
  const label = store.redo();
  if (label !== null) return `Redone: ${label}.`;
  return store.waitForHistory(store.redo) ? stillRead("redone") : "There is nothing to redo.";
}

const stillRead = (done: "undone" | "redone") =>
  `What was done before is still being read. The last step is ${done} in a moment.`;

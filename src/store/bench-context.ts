import { createContext, useContext } from "react";
import { useStore } from "zustand";
import type { Problem } from "../api/wire.ts";
import type { BenchState } from "./bench-state.ts";
import type { BenchStore } from "./bench-store.ts";
import type { Playback } from "./playback.ts";

export interface Bench {
  readonly store: BenchStore;
  readonly playback: Playback;
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

/** Whether everything is saved, or what keeps it from being saved. */
export function savingOf({ saveState }: BenchState): "saved" | "saving" | Problem {
  return saveState.kind === "notSaving" ? saveState.problem : saveState.kind;
}

/** Takes the last step back, and says which it was. */
export function undo({ store }: Bench): string {
  const label = store.undo();
  return label === null ? "There is nothing to undo." : `Undone: ${label}.`;
}

export function redo({ store }: Bench): string {
  const label = store.redo();
  return label === null ? "There is nothing to redo." : `Done again: ${label}.`;
}

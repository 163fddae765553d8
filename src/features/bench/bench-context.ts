import { createContext, useContext } from "react";
import { useStore } from "zustand";
import type { BenchState, BenchStore } from "../../store/bench-store.ts";
import type { Playback } from "../../store/playback.ts";

export interface Bench {
  readonly store: BenchStore;
  readonly playback: Playback;
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

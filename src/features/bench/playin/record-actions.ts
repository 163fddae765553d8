import type { Bench } from "../../../store/bench/bench-context.ts";

/** Shows what a part is played in with, or puts it away. The lanes above it are as many as fit. */
export function togglePlayIn({ store }: Bench, isOpen = !store.getState().isPlayInOpen): void {
  if (isOpen && !store.getState().isPlayInOpen) store.openLane(null);
  store.showPlayIn(isOpen);
}

/** Starts recording, with all that belongs to it in sight, or stops it. Says what came of it. */
export async function toggleRecording(bench: Bench): Promise<string | null> {
  togglePlayIn(bench, true);
  return bench.recording.toggle();
}

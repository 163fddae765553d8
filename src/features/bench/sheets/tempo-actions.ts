import { sayTrouble } from "../../../components/messages/say.ts";
import { backToFileTime } from "../../../core/commands/index.ts";
import type { Edit } from "../../../core/document/index.ts";
import { barCountOf } from "../../../core/overview/index.ts";
import { type TempoStudy, takeTempo } from "../../../core/tempo/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { fitViewport } from "../../../store/bench/viewport.ts";
import { setHeard } from "../../../store/project/tones.ts";
import { ServerProblem } from "../../../store/server-api.ts";

/**
 * Puts the take on the time that was found for it.
 * @param steadyBpm given to straighten it to one tempo; null to follow it as it was played
 * @returns what it did, in words
 */
export function takeFoundTime(bench: Bench, study: TempoStudy, steadyBpm: number | null): string {
  const { pattern } = bench.store.getState();
  const edit = takeTempo(pattern, study, steadyBpm);
  const how = steadyBpm === null ? "Follow the tempo as played" : `Straighten to ${steadyBpm} bpm`;
  commitTime(bench, how, edit);
  const { pattern: after, maps } = bench.store.getState();
  const bars = barCountOf(after.lengthTicks, maps);
  const now = steadyBpm === null ? "follows its own tempo now" : `is at a steady ${steadyBpm} bpm now`;
  return `The take ${now}, in ${bars} bars. Grids were found again; one undo takes it back.`;
}

/** Gives the take the time of its file back. */
export function giveFileTimeBack(bench: Bench): string {
  const edit = backToFileTime(bench.store.getState().pattern);
  if (!edit) return "The take is on the time of its file.";
  commitTime(bench, "Back to the time of the file", edit);
  return "The take is on the time of its file again.";
}

/** Places of the old time mean nothing in the new one: the loop goes, and the view begins at the start. */
function commitTime({ store, playback }: Bench, label: string, edit: Edit): void {
  store.commit(label, edit);
  const { viewport, pattern, maps, heardTones } = store.getState();
  const barTicks = maps.meterMap.segments[0]!.barTicks;
  playback.seek(0);
  store.setLoop(null);
  store.setViewBefore(null);
  store.setViewport(fitViewport(viewport, 0, Math.min(pattern.lengthTicks, 4 * barTicks), pattern.lengthTicks));
  // What else is heard goes along with the drums.
  for (const streamIndex of heardTones.keys()) {
    setHeard(store, streamIndex, true).catch((error: unknown) => {
      if (!(error instanceof ServerProblem)) throw error;
      sayTrouble(error.problem);
    });
  }
}

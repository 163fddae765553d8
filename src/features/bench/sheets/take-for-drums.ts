import { say, sayTrouble } from "../../../components/messages/say.ts";
import { lanesFor } from "../../../core/commands/index.ts";
import { type Edit, trackLabel } from "../../../core/document/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { setHeard } from "../../../store/project/tones.ts";
import { hitsOfStream, ServerProblem } from "../../../store/server-api.ts";

/** Brings the notes of a track to the Bench, or takes them off it, as one step to undo. */
export async function takeForDrums({ store }: Bench, streamIndex: number, toIsDrums: boolean): Promise<void> {
  try {
    const { project, pattern } = store.getState();
    const own = pattern.hits.filter((hit) => hit.streamIndex === streamIndex);
    const hits = toIsDrums ? await hitsOfStream(project.id, streamIndex) : own;
    const rest = pattern.hits.filter((hit) => hit.streamIndex !== streamIndex);
    if (toIsDrums) await setHeard(store, streamIndex, false);
    const toLanes = lanesFor({ ...pattern, hits: toIsDrums ? [...pattern.hits, ...hits] : rest });
    const edit: Edit = {
      kind: "setDrumStream",
      change: { streamIndex, toIsDrums, hits, fromLanes: pattern.lanes, toLanes },
    };
    const name = trackLabel(pattern.streams[streamIndex]!);
    store.commit(`Take ${name} ${toIsDrums ? "for drums" : "off the Bench"}`, edit);
    say(`${name}: ${hits.length} hits ${toIsDrums ? "came to" : "left"} the Bench.`);
  } catch (error) {
    if (!(error instanceof ServerProblem)) throw error;
    sayTrouble(error.problem);
  }
}

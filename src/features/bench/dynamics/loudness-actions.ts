import type { Hit } from "../../../core/document/index.ts";
import { findAlike, limitVelocity, setVelocities } from "../../../core/dynamics/index.ts";
import { noiseOf } from "../../../core/humanize.ts";
import { remembering } from "../../../core/remember.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { hitCount } from "../commands/actions.ts";
import { showPicked } from "../commands/travel-actions.ts";

const rememberAlike = remembering<LaneView, readonly Hit[]>();

/** The hits of a lane that follow each other exactly alike. */
export const alikeHits = (lane: LaneView): readonly Hit[] =>
  rememberAlike(lane, [], () => findAlike(lane.cleaned.velocities, lane.cleanedMs).map((row) => lane.hits[row]!));

export function showAlike(bench: Bench, lane: LaneView): void {
  bench.store.pick(new Set(alikeHits(lane).map(({ id }) => id)));
  showPicked(bench);
}

/** How far alike hits are spread, in velocity. */
const SPREAD = 5;

/** Spreads alike hits a little around where they are; none leaves its role. */
export function spreadAlike({ store }: Bench, lane: LaneView): string {
  const hits = alikeHits(lane);
  const rowOf = new Map(lane.hits.map((hit, row) => [hit.id, row]));
  const { ghostTop, accentBottom } = lane.roleBorders;
  const bounds = [
    [1, Math.max(1, ghostTop)],
    [ghostTop + 1, accentBottom - 1],
    [Math.min(127, accentBottom), 127],
  ] as const;
  const edit = setVelocities(hits, (hit) => {
    const row = rowOf.get(hit.id)!;
    const now = lane.cleaned.velocities[row]!;
    const [low, high] = hit.role ? ([1, 127] as const) : bounds[lane.roles[row]!]!;
    // At the edge of its role, or of what there is, there is room on one side only.
    const noise = noiseOf(hit.id, 1, "even");
    const room = Math.min(SPREAD, Math.max(0, high - low) / 2);
    const middle = Math.max(low + room, Math.min(high - room, now));
    return limitVelocity(middle + noise * room);
  });
  store.commit(`Spread ${hitCount(hits.length)} of ${lane.voice.name}`, edit);
  return `Spread ${hitCount(hits.length)} by up to ${SPREAD}, each within its role.`;
}

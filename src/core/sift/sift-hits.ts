import type { TimeMaps } from "../time/index.ts";
import { Asked } from "./asked.ts";
import type { Sift } from "./rule.ts";
import type { SiftedHit, SiftLane } from "./sift-lane.ts";
import { kindOfTest } from "./tests/index.ts";

/**
 * The hits that a rule lets through, in order of time. Places are those of the slots that hits belong to, so that what is early or
 * late counts for its beat; loudness and time are as they go out.
 * @param among only of these hits; null for all
 */
export function siftHits(
  sift: Sift,
  lanes: readonly SiftLane[],
  maps: TimeMaps,
  among: ReadonlySet<string> | null = null,
): readonly SiftedHit[] {
  const asked = new Asked(lanes, maps);
  const passed: SiftedHit[] = [];
  for (const lane of lanes) {
    for (const [row, hit] of lane.hits.entries()) {
      if (among !== null && !among.has(hit.id)) continue;
      const one = { hit, lane, row, tick: lane.cleaned.ticks[row]! };
      const isThrough = sift.clauses.every(
        ({ not, anyOf }) => anyOf.some((test) => kindOfTest(test).holds(test, one, asked)) !== Boolean(not),
      );
      if (isThrough) passed.push(one);
    }
  }
  passed.sort((a, b) => a.tick - b.tick);
  return sift.nth ? everyNth(passed, sift.nth, asked) : passed;
}

function everyNth(
  hits: readonly SiftedHit[],
  { every, from, perBar }: NonNullable<Sift["nth"]>,
  asked: Asked,
): readonly SiftedHit[] {
  let count = 0;
  let bar = -1;
  return hits.filter((one) => {
    const here = perBar ? asked.placeOf(one).bar.barIndex : 0;
    if (here !== bar) count = 0;
    bar = here;
    count++;
    return count >= from && (count - from) % every === 0;
  });
}

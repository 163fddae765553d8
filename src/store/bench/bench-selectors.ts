import type { PlacedHit } from "../../core/commands/index.ts";
import { type Fullness, type Hit, type Pattern, USUAL_FULLNESS } from "../../core/document/index.ts";
import { remembering } from "../../core/remember.ts";
import { scopeOf } from "../../core/song/index.ts";
import type { BenchState } from "./bench-state.ts";
import type { LaneView } from "./lane-view.ts";

// What several parts of the interface ask of the state, found once as long as nothing of it changes.

/** The words about the selection, the grid and a drag all ask for the same rows, again and again while it lasts. */
const rememberRows = remembering<readonly Hit[], readonly number[]>();

/** The rows of a lane's hits that are picked. */
export function pickedRows(hits: readonly Hit[], picked: ReadonlySet<string>): readonly number[] {
  return rememberRows(hits, [picked], () =>
    picked.size < FEW_PICKED ? rowsOfFew(hits, picked) : rowsOfMany(hits, picked),
  );
}

/** So few are looked for one by one: a marquee picks others on every frame, out of a take that may hold 50,000. */
const FEW_PICKED = 1000;

function rowsOfFew(hits: readonly Hit[], picked: ReadonlySet<string>): readonly number[] {
  if (picked.size === 0) return [];
  const rowOf = indexOf(hits);
  const rows: number[] = [];
  for (const id of picked) {
    const row = rowOf.get(id);
    if (row !== undefined) rows.push(row);
  }
  return rows.sort((a, b) => a - b);
}

function rowsOfMany(hits: readonly Hit[], picked: ReadonlySet<string>): readonly number[] {
  const rows: number[] = [];
  for (let row = 0; row < hits.length; row++) if (picked.has(hits[row]!.id)) rows.push(row);
  return rows;
}

const rememberIndex = remembering<readonly Hit[], ReadonlyMap<string, number>>();

/** The row of each hit by its id. */
const indexOf = (hits: readonly Hit[]) => rememberIndex(hits, [], () => new Map(hits.map(({ id }, row) => [id, row])));

/** The picked hits with the ticks at which they sound now. */
export function pickedHits({ lanes, picked }: Pick<BenchState, "lanes" | "picked">): readonly PlacedHit[] {
  return lanes.flatMap((lane) =>
    pickedRows(lane.hits, picked).map((row) => ({
      hit: lane.hits[row]!,
      tick: lane.cleaned.ticks[row]!,
      velocity: lane.cleaned.velocities[row]!,
    })),
  );
}

const rememberVisible = remembering<readonly LaneView[], readonly LaneView[]>();

/** The lanes that are not put away; the same list as long as nothing of that changes. */
export function visibleLanes({ lanes, hidden }: Pick<BenchState, "lanes" | "hidden">): readonly LaneView[] {
  if (hidden.size === 0) return lanes;
  return rememberVisible(lanes, [hidden], () => lanes.filter((lane) => !hidden.has(lane.voiceId)));
}

/** How full the part is played: as the pattern that it is seen through says, or the take. */
export function fullnessOf({
  pattern,
  scopeId,
}: {
  readonly pattern: Pick<Pattern, "arrangement" | "fullness">;
  readonly scopeId: string | null;
}): Fullness {
  const { fullness = USUAL_FULLNESS } = pattern;
  const percent = scopeOf(pattern, scopeId)?.fullnessPercent;
  return percent === undefined ? fullness : { ...fullness, percent };
}

/** Whether a voice is heard: not muted, and soloed if any is. */
export function isAudible({ muted, soloed }: Pick<BenchState, "muted" | "soloed">, voiceId: string): boolean {
  return soloed.size > 0 ? soloed.has(voiceId) : !muted.has(voiceId);
}

/** A hit as it goes out: where, and how loud. */
export interface HeardHit {
  readonly hit: Hit;
  readonly voice: LaneView["voice"];
  readonly tick: number;
  readonly velocity: number;
}

/** The hits that can be heard in a stretch: not those that are muted, or left out by the repair. */
export function heardBetween(lanes: readonly LaneView[], startTick: number, endTick: number): readonly HeardHit[] {
  return lanes.flatMap(({ hits, cleaned, voice }) =>
    hits.flatMap((hit, row): HeardHit[] => {
      const tick = cleaned.ticks[row]!;
      const isHeard = !hit.isMuted && cleaned.isLeftOut[row] !== 1 && tick >= startTick && tick < endTick;
      return isHeard ? [{ hit, voice, tick, velocity: cleaned.velocities[row]! }] : [];
    }),
  );
}

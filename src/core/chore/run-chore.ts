import { growTo } from "../commands/index.ts";
import type { Edit } from "../document/index.ts";
import { applyEdit, LONGEST_TAKE_TICKS, pinsIn } from "../document/index.ts";
import type { Pattern } from "../document/pattern.ts";
import { limitVelocity } from "../dynamics/index.ts";
import { type SiftedHit, siftHits, siftLanesOf } from "../sift/index.ts";
import { buildTimeMaps, type TimeMaps } from "../time/index.ts";
import type { Working } from "./acts/act-kind.ts";
import { type ChoreAct, kindOfAct } from "./acts/index.ts";
import type { ChoreStep } from "./chore.ts";

/** What a chore would do to a pattern. */
export interface ChoreRun {
  /** One step of undo. */
  readonly edit: Edit;
  /** Hits that a rule of it has picked, and those that it changes. */
  readonly pickedIds: ReadonlySet<string>;
  readonly changedIds: ReadonlySet<string>;
  /** Voices that go to a pattern of their own. */
  readonly takenOutVoiceIds: readonly string[];
  /** Hits that are wanted louder than 127 or softer than 1, and end up alike. */
  readonly clippedCount: number;
  /** What could not be done, in words. */
  readonly refusals: readonly string[];
}

/**
 * Runs the steps of a chore, each on what the one before has made. Loudness and time start from how hits sound now, and what is
 * written is 1 to 127 and inside the pattern.
 * @param among only these hits; null for the whole pattern
 */
export function runChore(
  pattern: Pattern,
  steps: readonly ChoreStep[],
  among: ReadonlySet<string> | null = null,
): ChoreRun {
  const maps = buildTimeMaps(pattern);
  const pickedIds = new Set<string>();
  const takenOut = new Set<string>();
  const refusals: string[] = [];
  const edits: Edit[] = [];
  let clippedCount = 0;
  let now = pattern;
  for (const { sift, acts } of steps) {
    const sifted = siftHits(sift, siftLanesOf(now, maps), maps, among);
    for (const { hit } of sifted) pickedIds.add(hit.id);
    if (sifted.length === 0) continue;
    const { own, refused, voiceIds, clipped } = runStep(now, sifted, acts, maps);
    clippedCount += clipped;
    refusals.push(...refused);
    for (const voiceId of voiceIds) takenOut.add(voiceId);
    for (const edit of own) now = applyEdit(now, edit);
    edits.push(...own);
  }
  const before = new Map(pattern.hits.map((hit) => [hit.id, hit]));
  const after = new Map(now.hits.map((hit) => [hit.id, hit]));
  const changedIds = new Set([...before].flatMap(([id, hit]) => (after.get(id) === hit ? [] : [id])));
  return {
    edit: { kind: "together", edits },
    pickedIds,
    changedIds,
    takenOutVoiceIds: [...takenOut],
    clippedCount,
    refusals,
  };
}

const TOO_LONG = "A take cannot be that long, so nothing was moved.";

function runStep(pattern: Pattern, sifted: readonly SiftedHit[], acts: readonly ChoreAct[], maps: TimeMaps) {
  let working: readonly Working[] = sifted.map((one) => ({
    sifted: one,
    tick: one.tick,
    velocity: one.lane.cleaned.velocities[one.row]!,
  }));
  for (const act of acts) working = kindOfAct(act).change?.(working, act, maps) ?? working;
  const refused: string[] = [];
  const voiceIds = acts.some((act) => kindOfAct(act).extracts)
    ? [...new Set(sifted.map(({ hit }) => hit.voiceId))]
    : [];
  const own: Edit[] = [];
  const louder = working.filter(
    ({ sifted: { lane, row }, velocity }) => limitVelocity(velocity) !== lane.cleaned.velocities[row],
  );
  if (louder.length > 0) {
    const changes = louder.map(({ sifted: { hit }, velocity }) => ({
      hitId: hit.id,
      fromVelocity: hit.pinnedVelocity,
      toVelocity: limitVelocity(velocity),
    }));
    own.push({ kind: "setVelocity", changes });
  }
  const moved = working.filter(({ sifted: one, tick }) => Math.round(tick) !== one.tick);
  const last = moved.reduce((latest, { tick }) => Math.max(latest, Math.round(tick)), 0);
  const grown = acts.some((act) => kindOfAct(act).growsTake) ? growTo(pattern, last) : [];
  const endTick = grown.reduce(applyEdit, pattern).lengthTicks;
  if (endTick > LONGEST_TAKE_TICKS) refused.push(TOO_LONG);
  else if (moved.length > 0) {
    own.push(...grown);
    const pinOf = pinsIn(pattern);
    const moves = moved.map(({ sifted: { hit }, tick }) => ({
      hitId: hit.id,
      fromTick: hit.pinnedTick,
      toTick: pinOf(hit, Math.max(0, Math.min(endTick - 1, Math.round(tick)))),
    }));
    own.push({ kind: "moveHits", moves });
  }
  // What is struck, or whether: one act after the other, for a hit may be another one afterwards.
  const ids = new Set(sifted.map(({ hit }) => hit.id));
  for (const act of acts) {
    const { strike } = kindOfAct(act);
    if (!strike) continue;
    const now = own.reduce(applyEdit, pattern);
    const { edit, refusal: words } = strike(
      now,
      now.hits.filter(({ id }) => ids.has(id)),
      act,
    );
    if (words) refused.push(words);
    if (edit) own.push(edit);
  }
  const clipped = working.filter(({ velocity }) => Math.round(velocity) !== limitVelocity(velocity)).length;
  return { own, refused, voiceIds, clipped };
}

import { revoiceHits } from "../commands/reassign.ts";
import type { Edit, NoteMap } from "../document/index.ts";
import { applyEdit } from "../document/index.ts";
import type { Hit, Pattern } from "../document/pattern.ts";
import { USUAL_DYNAMICS } from "../document/treatment.ts";
import { alongContour, fitIn, limitVelocity } from "../dynamics/index.ts";
import { type SiftedHit, siftHits, siftLanesOf } from "../sift/index.ts";
import { buildTimeMaps, type TimeMaps, tickAfterMs } from "../time/index.ts";
import { noiseOf } from "../timing/humanize.ts";
import type { ChoreAct, ChoreStep } from "./chore.ts";

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

/** Hits as the acts of a step change them. */
interface Working {
  readonly sifted: SiftedHit;
  readonly tick: number;
  readonly velocity: number;
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

function runStep(pattern: Pattern, sifted: readonly SiftedHit[], acts: readonly ChoreAct[], maps: TimeMaps) {
  let working = sifted.map(
    (one): Working => ({ sifted: one, tick: one.tick, velocity: one.lane.cleaned.velocities[one.row]! }),
  );
  for (const act of acts) working = shaped(working, act, maps);
  const refused: string[] = [];
  const voiceIds = acts.some(({ kind }) => kind === "takeOut")
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
  const isInside = moved.every(({ tick }) => Math.round(tick) < pattern.lengthTicks);
  if (!isInside && acts.some(({ kind }) => kind === "stretchTime")) {
    refused.push("Half as fast does not fit into the pattern, so nothing was moved.");
  } else if (moved.length > 0) {
    const moves = moved.map(({ sifted: { hit }, tick }) => ({
      hitId: hit.id,
      fromTick: hit.pinnedTick,
      toTick: Math.max(0, Math.min(pattern.lengthTicks - 1, Math.round(tick))),
    }));
    own.push({ kind: "moveHits", moves });
  }
  const hits = sifted.map(({ hit }) => hit);
  for (const act of acts) {
    const [edit, words] = handled(own.reduce(applyEdit, pattern), hits, act);
    if (words) refused.push(words);
    if (edit) own.push(edit);
  }
  const clipped = working.filter(({ velocity }) => Math.round(velocity) !== limitVelocity(velocity)).length;
  return { own, refused, voiceIds, clipped };
}

/** Acts that change what is struck, or whether: one after the other, for a hit may be another one afterwards. */
function handled(pattern: Pattern, picked: readonly Hit[], act: ChoreAct): readonly [Edit | null, string | null] {
  const ids = new Set(picked.map(({ id }) => id));
  const hits = pattern.hits.filter(({ id }) => ids.has(id));
  switch (act.kind) {
    case "mute":
    case "takeOut": {
      const hitIds = hits.filter(({ isMuted }) => !isMuted).map(({ id }) => id);
      return [hitIds.length > 0 ? { kind: "muteHits", hitIds, toIsMuted: true } : null, null];
    }
    case "remove":
      return [hits.length > 0 ? { kind: "removeHits", hits } : null, null];
    case "revoice":
      if (!hasStroke(pattern.noteMap, act))
        return [null, `The map of this take has no ${act.voiceId}, ${act.articulationId}.`];
      return [hits.length > 0 ? revoiceHits(pattern, hits, act) : null, null];
    default:
      return [null, null];
  }
}

function hasStroke(map: NoteMap, { voiceId, articulationId }: { voiceId: string; articulationId: string }): boolean {
  const voice = map.voices.find(({ id }) => id === voiceId);
  return voice?.articulations.some(({ id }) => id === articulationId) ?? false;
}

/** Acts that change loudness or time; the others are left for later. */
function shaped(working: readonly Working[], act: ChoreAct, maps: TimeMaps): Working[] {
  const louder = (change: (one: Working, index: number) => number) =>
    working.map((one, index) => ({ ...one, velocity: change(one, index) }));
  const moved = (change: (one: Working) => number) => working.map((one) => ({ ...one, tick: change(one) }));
  switch (act.kind) {
    case "scale":
      return louder(({ velocity }) => (velocity * Math.max(0, act.percent)) / 100);
    case "add":
      return louder(({ velocity }) => velocity + act.velocity);
    case "set":
      return louder(() => act.velocity);
    case "evenOut": {
      const mean = meansBy(working, ({ sifted: { hit, lane, row } }) => `${hit.voiceId} ${lane.roles[row]}`);
      return louder((one) => one.velocity + (act.percent / 100) * (mean(one) - one.velocity));
    }
    case "range": {
      const mean = meansBy(working, ({ sifted: { hit } }) => hit.voiceId);
      return louder((one) => mean(one) + (one.velocity - mean(one)) * (Math.max(0, act.percent) / 100));
    }
    case "contour": {
      const values = alongContour(working, act, maps.meterMap);
      return louder((_, index) => values[index]!);
    }
    case "fitIn":
      return fitted(working);
    case "shiftMs":
      return moved(({ tick }) => tickAfterMs(maps.tempoMap, tick, act.ms));
    case "shiftTicks":
      return moved(({ tick }) => tick + act.ticks);
    case "humanize":
      return working.map((one) => {
        const noise = noiseOf(one.sifted.hit.id, act.seed, "bell");
        const loudNoise = noiseOf(one.sifted.hit.id, act.seed + 1, "bell");
        const tick = act.ms > 0 ? tickAfterMs(maps.tempoMap, one.tick, noise * act.ms) : one.tick;
        return { ...one, tick, velocity: one.velocity + loudNoise * act.velocity };
      });
    case "stretchTime": {
      const first = working[0]?.tick ?? 0;
      return moved(({ tick }) => first + (tick - first) * act.factor);
    }
    case "revoice":
    case "mute":
    case "remove":
    case "takeOut":
      return [...working];
    default:
      return act satisfies never;
  }
}

/** Brings the loudness of each voice between 1 and 127, role by role. */
function fitted(working: readonly Working[]): Working[] {
  const velocities = new Map<Working, number>();
  for (const voiceId of new Set(working.map(({ sifted }) => sifted.hit.voiceId))) {
    const own = working.filter(({ sifted }) => sifted.hit.voiceId === voiceId);
    const wanted = Float64Array.from(own, ({ velocity }) => velocity);
    const roles = Uint8Array.from(own, ({ sifted: { lane, row } }) => lane.roles[row]!);
    fitIn(wanted, roles, new Uint8Array(own.length), USUAL_DYNAMICS);
    for (const [index, one] of own.entries()) velocities.set(one, wanted[index]!);
  }
  return working.map((one) => ({ ...one, velocity: velocities.get(one)! }));
}

function meansBy(working: readonly Working[], keyOf: (one: Working) => string): (one: Working) => number {
  const sums = new Map<string, { sum: number; count: number }>();
  for (const one of working) {
    const entry = sums.get(keyOf(one)) ?? { sum: 0, count: 0 };
    sums.set(keyOf(one), { sum: entry.sum + one.velocity, count: entry.count + 1 });
  }
  return (one) => {
    const { sum, count } = sums.get(keyOf(one))!;
    return sum / count;
  };
}

import { type Edit, pinsIn } from "../document/index.ts";
import { baseVelocity, type Hit, type HitMarks, marksOf, type Pattern } from "../document/pattern.ts";
import type { TimingTreatment, Treatment } from "../document/treatment.ts";

// A command reads a pattern and returns the edit that would do it; it changes nothing.

/** A hit and where it sounds now, treatment included. */
export interface PlacedHit {
  readonly hit: Hit;
  readonly tick: number;
  /** How loud it sounds now, treatment included. Left out, as it is before treatment. */
  readonly velocity?: number;
}

/** How loud hits sound now, by what is known of their places. */
export function loudnessOf(placed: readonly PlacedHit[]): (hit: Hit) => number {
  const velocities = new Map(placed.map(({ hit, velocity }) => [hit.id, velocity]));
  return (hit) => velocities.get(hit.id) ?? baseVelocity(hit);
}

/**
 * Moves hits from where they sound, and pins them there. All move by the same distance, shortened if one would leave
 * the pattern, so that their shape is kept.
 */
export function moveHitsBy(pattern: Pattern, placed: readonly PlacedHit[], deltaTicks: number): Edit {
  const delta = farthestMove(pattern, placed, deltaTicks);
  const pinOf = pinsIn(pattern);
  return {
    kind: "moveHits",
    moves: placed.map(({ hit, tick }) => ({
      hitId: hit.id,
      fromTick: hit.pinnedTick,
      toTick: pinOf(hit, tick + delta),
    })),
  };
}

/** How far hits can be moved together, in whole ticks, so that none leaves the pattern. @param deltaTicks how far they shall */
export function farthestMove(pattern: Pattern, placed: readonly PlacedHit[], deltaTicks: number): number {
  let first = Number.POSITIVE_INFINITY;
  let last = 0;
  for (const { tick } of placed) {
    first = Math.min(first, tick);
    last = Math.max(last, tick);
  }
  return Math.max(-first, Math.min(pattern.lengthTicks - 1 - last, Math.round(deltaTicks)));
}

/** Pins hits where they sound. */
export function pinHits(pattern: Pattern, placed: readonly PlacedHit[]): Edit {
  const pinOf = pinsIn(pattern);
  const moves = placed.map(({ hit, tick }) => ({ hitId: hit.id, fromTick: hit.pinnedTick, toTick: pinOf(hit, tick) }));
  return { kind: "moveHits", moves };
}

/** Gives the time of hits back to the treatment. A hit added by hand has no recorded time to go back to and stays. */
export function unpinHits(hits: readonly Hit[]): Edit {
  const moves = hits
    .filter((hit) => hit.recordedTick !== null)
    .map((hit) => ({ hitId: hit.id, fromTick: hit.pinnedTick, toTick: null }));
  return { kind: "moveHits", moves };
}

/** Makes hits louder or softer by hand, within 1 to 127. @param velocityOf from how loud they are: before treatment, or as they sound */
export function changeVelocityBy(hits: readonly Hit[], delta: number, velocityOf = baseVelocity): Edit {
  const changes = hits.map((hit) => ({
    hitId: hit.id,
    fromVelocity: hit.pinnedVelocity,
    toVelocity: Math.max(1, Math.min(127, Math.round(velocityOf(hit) + delta))),
  }));
  return { kind: "setVelocity", changes };
}

/** Mutes hits, or lets them sound again if all of them are muted. Those that are so already are left out. */
export function toggleMuted(hits: readonly Hit[]): Edit {
  const toIsMuted = hits.some((hit) => !hit.isMuted);
  const hitIds = hits.filter((hit) => Boolean(hit.isMuted) !== toIsMuted).map((hit) => hit.id);
  return { kind: "muteHits", hitIds, toIsMuted };
}

/** Changes the treatment of some lanes. */
export function changeTreatments(
  pattern: Pattern,
  voiceIds: ReadonlySet<string>,
  change: (treatment: Treatment, voiceId: string) => Treatment,
): Edit {
  const changes = pattern.lanes
    .filter((lane) => voiceIds.has(lane.voiceId))
    .map(({ voiceId, treatment }) => ({ voiceId, from: treatment, to: change(treatment, voiceId) }));
  return { kind: "setTreatments", changes };
}

/** Changes the timing step of some lanes. */
export function changeTiming(
  pattern: Pattern,
  voiceIds: ReadonlySet<string>,
  change: (timing: TimingTreatment, voiceId: string) => TimingTreatment,
): Edit {
  return changeTreatments(pattern, voiceIds, (treatment, voiceId) => ({
    ...treatment,
    timing: change(treatment.timing, voiceId),
  }));
}

/** Lets the repair step of a lane leave out exactly these hits; without any, the step is off. */
export function leaveOut(pattern: Pattern, voiceId: string, hitIds: readonly string[]): Edit {
  return changeTreatments(pattern, new Set([voiceId]), ({ repair: _, ...treatment }) =>
    hitIds.length === 0 ? treatment : { repair: { leftOut: hitIds }, ...treatment },
  );
}

/** Takes hits off what the repair steps of their lanes leave out. */
export function keepHits(pattern: Pattern, hits: readonly Hit[]): Edit {
  const kept = new Set(hits.map(({ id }) => id));
  const repaired = pattern.lanes.filter(({ treatment }) => treatment.repair?.leftOut.some((id) => kept.has(id)));
  const voiceIds = new Set(repaired.map(({ voiceId }) => voiceId));
  return changeTreatments(pattern, voiceIds, ({ repair, ...treatment }) => {
    const leftOut = (repair?.leftOut ?? []).filter((id) => !kept.has(id));
    return leftOut.length === 0 ? treatment : { repair: { leftOut }, ...treatment };
  });
}

type MarkChange = { readonly [Mark in keyof HitMarks]: HitMarks[Mark] | undefined };

/** Says of hits what a hand knows better: their role, how much they swing, or when they are played. Undefined takes it back. */
export function markHits(hits: readonly Hit[], marks: MarkChange | ((hit: Hit) => MarkChange)): Edit {
  const changes = hits.map((hit) => {
    const from = marksOf(hit);
    const own = typeof marks === "function" ? marks(hit) : marks;
    const to = Object.fromEntries(Object.entries({ ...from, ...own }).filter(([, value]) => value !== undefined));
    return { hitId: hit.id, from, to };
  });
  return { kind: "markHits", changes };
}

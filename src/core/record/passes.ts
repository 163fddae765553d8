import { baseTick, type Edit, type Hit, type PassMarks, type Pattern, passMarksOf } from "../document/index.ts";
import { barAt, type MeterMap } from "../time/index.ts";
import type { TickLoop } from "./place-stroke.ts";

// Passes are the rounds in which hits were played in. They are no list beside the hits: a pass is the hits that carry its number.

export interface Pass {
  readonly pass: number;
  /** In the order of their places. */
  readonly hits: readonly Hit[];
  /** In the order in which the pass plays them first. */
  readonly voiceIds: readonly string[];
  /** Whether none of it is heard. */
  readonly isMuted: boolean;
}

/** The passes of a take in the order in which they were played. */
export function passesOf(pattern: Pick<Pattern, "hits">): readonly Pass[] {
  const byPass = new Map<number, Hit[]>();
  for (const hit of pattern.hits) {
    if (hit.pass === undefined) continue;
    const hits = byPass.get(hit.pass);
    if (hits) hits.push(hit);
    else byPass.set(hit.pass, [hit]);
  }
  return [...byPass]
    .sort(([one], [other]) => one - other)
    .map(([pass, hits]) => ({
      pass,
      hits,
      voiceIds: [...new Set(hits.map(({ voiceId }) => voiceId))],
      isMuted: hits.every(({ isMuted }) => isMuted),
    }));
}

/** The number of the next pass. */
export function nextPass({ hits }: Pick<Pattern, "hits">): number {
  return hits.reduce((most, { pass = 0, replacedBy = 0 }) => Math.max(most, pass, replacedBy), 0) + 1;
}

/**
 * Silences a pass, or lets it be heard again. What it had replaced is heard while it is silent.
 * @returns no change where it is so already
 */
export function mutePass({ hits }: Pattern, pass: number, isMuted: boolean): Edit {
  const own = hits.filter((hit) => hit.pass === pass && (hit.isMuted ?? false) !== isMuted);
  const replaced = hits.filter(({ replacedBy, isMuted: is = false }) => replacedBy === pass && is !== !isMuted);
  return together([mute(own, isMuted), mute(replaced, !isMuted)]);
}

/** Takes a pass out of the take. What it had replaced is heard again. */
export function removePass({ hits }: Pattern, pass: number): Edit {
  const removed = hits.filter((hit) => hit.pass === pass);
  const replaced = hits.filter((hit) => hit.replacedBy === pass && hit.pass !== pass);
  return together([
    { kind: "removeHits", hits: removed },
    mark(replaced, ({ pass: own }) => (own === undefined ? {} : { pass: own })),
    mute(
      replaced.filter((hit) => hit.isMuted),
      false,
    ),
  ]);
}

/** Makes one pass of several: the earliest of them. */
export function mergePasses({ hits }: Pattern, passes: readonly number[]): Edit {
  const into = Math.min(...passes);
  const changed = hits.filter(({ pass, replacedBy }) => [pass, replacedBy].some((one) => passes.includes(one ?? 0)));
  const merged = (pass: number | undefined) => (pass !== undefined && passes.includes(pass) ? into : pass);
  return mark(changed, (marks) => marksFrom(merged(marks.pass), merged(marks.replacedBy)));
}

/**
 * Silences what a new pass plays in the place of. Hits of the pass itself stay.
 * @param voiceIds what it plays; null for all drums
 */
export function replaceBy(
  { hits }: Pattern,
  { startTick, endTick }: TickLoop,
  voiceIds: readonly string[] | null,
  pass: number,
): Edit {
  const replaced = hits.filter((hit) => {
    if (hit.isMuted || hit.pass === pass || !(voiceIds?.includes(hit.voiceId) ?? true)) return false;
    const tick = baseTick(hit);
    return tick >= startTick && tick < endTick;
  });
  return together([mark(replaced, (marks) => ({ ...marks, replacedBy: pass })), mute(replaced, true)]);
}

/**
 * Hears a bar of a pass: what other passes play on its drums is silent in that bar. Other drums, and hits of no pass, stay as they are.
 * @param barIndex from 0
 */
export function hearBar({ hits }: Pattern, meterMap: MeterMap, pass: number, barIndex: number): Edit {
  const inBar = hits.filter((hit) => hit.pass !== undefined && barAt(meterMap, baseTick(hit)).barIndex === barIndex);
  const voiceIds = new Set(inBar.flatMap((hit) => (hit.pass === pass ? [hit.voiceId] : [])));
  const silenced = inBar.filter((hit) => hit.pass !== pass && voiceIds.has(hit.voiceId) && !hit.isMuted);
  const heard = inBar.filter((hit) => hit.pass === pass && hit.isMuted);
  return together([mute(silenced, true), mute(heard, false)]);
}

/** Leaves a bar of a pass out. */
export function leaveBarOut({ hits }: Pattern, meterMap: MeterMap, pass: number, barIndex: number): Edit {
  const isIn = (hit: Hit) => hit.pass === pass && barAt(meterMap, baseTick(hit)).barIndex === barIndex;
  return mute(
    hits.filter((hit) => isIn(hit) && !hit.isMuted),
    true,
  );
}

function marksFrom(pass: number | undefined, replacedBy: number | undefined): PassMarks {
  return {
    ...(pass === undefined ? {} : { pass }),
    ...(replacedBy === undefined || replacedBy === pass ? {} : { replacedBy }),
  };
}

function mark(hits: readonly Hit[], to: (marks: PassMarks) => PassMarks): Edit {
  const changes = hits.map((hit) => ({ hitId: hit.id, from: passMarksOf(hit), to: to(passMarksOf(hit)) }));
  return { kind: "markPasses", changes };
}

function mute(hits: readonly Hit[], toIsMuted: boolean): Edit {
  return { kind: "muteHits", hitIds: hits.map(({ id }) => id), toIsMuted };
}

const together = (edits: readonly Edit[]): Edit => ({ kind: "together", edits });

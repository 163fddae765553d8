import { frameOf } from "./apply-retiming.ts";
import { arranging } from "./arrange.ts";
import { NO_ARRANGEMENT } from "./arrangement.ts";
import { applyEdit } from "./edit.ts";
import type { Edit } from "./edit-kinds.ts";
import { type Hit, marksOf, type Pattern } from "./pattern.ts";
import { isSameValue } from "./stale.ts";

// Two states of one take: the edit that leads from one to the other, and what differs, hit by hit.

/**
 * The edit that makes `to` of `from`, so that going back to a version is one step that can be undone itself.
 * @param from the pattern that the edit will be applied to
 * @param to another state of the same take
 */
export function editBetween(from: Pattern, to: Pattern): Edit {
  if (isSameValue(frameOf(from), frameOf(to))) return editOnOneTime(from, to);
  const retiming: Edit = { kind: "retime", from: frameOf(from), to: frameOf(to), moves: [] };
  const rest = editOnOneTime(applyEdit(from, retiming), to);
  return { kind: "together", edits: [retiming, ...(rest.kind === "together" ? rest.edits : [rest])] };
}

function editOnOneTime(from: Pattern, to: Pattern): Edit {
  const before = new Map(from.hits.map((hit) => [hit.id, hit]));
  const after = new Map(to.hits.map((hit) => [hit.id, hit]));
  const both = from.hits.flatMap((hit) => {
    const other = after.get(hit.id);
    return other && !isSameValue(hit, other) ? [[hit, other] as const] : [];
  });
  const streams = from.streams.flatMap((stream, streamIndex): Edit[] => {
    const toIsDrums = to.streams[streamIndex]?.isDrums ?? stream.isDrums;
    if (toIsDrums === stream.isDrums) return [];
    // Hits and lanes follow below, all together.
    const change = { streamIndex, toIsDrums, hits: [], fromLanes: from.lanes, toLanes: from.lanes };
    return [{ kind: "setDrumStream", change }];
  });
  const mute = (toIsMuted: boolean): Edit => ({
    kind: "muteHits",
    hitIds: both.flatMap(([hit, other]) =>
      Boolean(hit.isMuted) !== toIsMuted && Boolean(other.isMuted) === toIsMuted ? [hit.id] : [],
    ),
    toIsMuted,
  });
  const edits: Edit[] = [
    ...streams,
    { kind: "removeHits", hits: from.hits.filter((hit) => !after.has(hit.id)) },
    {
      kind: "moveHits",
      moves: both
        .filter(([hit, other]) => hit.pinnedTick !== other.pinnedTick)
        .map(([hit, other]) => ({ hitId: hit.id, fromTick: hit.pinnedTick, toTick: other.pinnedTick })),
    },
    {
      kind: "setVelocity",
      changes: both
        .filter(([hit, other]) => hit.pinnedVelocity !== other.pinnedVelocity)
        .map(([hit, other]) => ({
          hitId: hit.id,
          fromVelocity: hit.pinnedVelocity,
          toVelocity: other.pinnedVelocity,
        })),
    },
    {
      kind: "setLengths",
      changes: both
        .filter(([hit, other]) => hit.lengthTicks !== other.lengthTicks)
        .map(([hit, other]) => ({ hitId: hit.id, from: hit.lengthTicks ?? null, to: other.lengthTicks ?? null })),
    },
    {
      kind: "markHits",
      changes: both
        .filter(([hit, other]) => !isSameValue(marksOf(hit), marksOf(other)))
        .map(([hit, other]) => ({ hitId: hit.id, from: marksOf(hit), to: marksOf(other) })),
    },
    mute(true),
    mute(false),
    {
      kind: "reassignHits",
      changes: both.filter(([hit, other]) => isOtherStroke(hit, other)).map(meaningChange),
      noteMaps: isSameValue(from.noteMap, to.noteMap) ? null : { from: from.noteMap, to: to.noteMap },
      fromLanes: from.lanes,
      toLanes: to.lanes,
    },
    { kind: "addHits", hits: to.hits.filter((hit) => !before.has(hit.id)) },
    { kind: "setOutgoingMap", from: from.outgoingMap, to: to.outgoingMap },
    messagesBetween(from, to),
    { kind: "keepSide", from: from.otherSide ?? null, to: to.otherSide ?? null },
    { kind: "arrange", ...arranging(from.arrangement ?? NO_ARRANGEMENT, to.arrangement ?? NO_ARRANGEMENT) },
  ];
  return { kind: "together", edits };
}

function meaningChange([hit, other]: readonly [Hit, Hit]) {
  return {
    hitId: hit.id,
    from: { voiceId: hit.voiceId, articulationId: hit.articulationId },
    to: { voiceId: other.voiceId, articulationId: other.articulationId },
  };
}

function isOtherStroke(a: Hit, b: Hit): boolean {
  return a.voiceId !== b.voiceId || a.articulationId !== b.articulationId;
}

function messagesBetween(from: Pattern, to: Pattern): Edit {
  const ids = new Set([...Object.keys(from.changedMessages), ...Object.keys(to.changedMessages)]);
  const changes = [...ids].flatMap((messageId) => {
    const [before, after] = [from.changedMessages[messageId], to.changedMessages[messageId]];
    if (isSameValue(before, after)) return [];
    return [
      { messageId, ...(before === undefined ? {} : { from: before }), ...(after === undefined ? {} : { to: after }) },
    ];
  });
  const times = ({ meters, tempos }: Pattern) => ({ meters, tempos });
  const areTimesSame = isSameValue(times(from), times(to));
  return { kind: "changeMessages", changes, times: areTimesSame ? null : { from: times(from), to: times(to) } };
}

export type Difference =
  | "added"
  | "removed"
  | "moved"
  | "loudness"
  | "muted"
  | "length"
  | "role"
  | "swing"
  | "another drum";

/** How a hit differs between two states of a take. */
export interface HitDifference {
  /** The hit as it is now, or as it was if it is gone. */
  readonly hit: Hit;
  readonly how: readonly Difference[];
}

/** The hits that differ between an earlier state and now, and the voices whose settings do. */
export function differencesBetween(
  earlier: Pattern,
  now: Pattern,
): { readonly hits: readonly HitDifference[]; readonly treatedVoiceIds: readonly string[] } {
  const before = new Map(earlier.hits.map((hit) => [hit.id, hit]));
  const present = new Set(now.hits.map((hit) => hit.id));
  const hits = now.hits.flatMap((hit): HitDifference[] => {
    const was = before.get(hit.id);
    if (!was) return [{ hit, how: ["added"] }];
    const how: Difference[] = [];
    if (was.pinnedTick !== hit.pinnedTick) how.push("moved");
    if (was.pinnedVelocity !== hit.pinnedVelocity) how.push("loudness");
    if (was.isMuted !== hit.isMuted) how.push("muted");
    if (was.lengthTicks !== hit.lengthTicks) how.push("length");
    if (was.role !== hit.role) how.push("role");
    if (was.swingSharePercent !== hit.swingSharePercent) how.push("swing");
    if (isOtherStroke(was, hit)) how.push("another drum");
    return how.length > 0 ? [{ hit, how }] : [];
  });
  const removed = earlier.hits.filter((hit) => !present.has(hit.id));
  const treatmentsBefore = new Map(earlier.lanes.map(({ voiceId, treatment }) => [voiceId, treatment]));
  return {
    hits: [...hits, ...removed.map((hit): HitDifference => ({ hit, how: ["removed"] }))],
    treatedVoiceIds: now.lanes
      .filter(({ voiceId, treatment }) => {
        const was = treatmentsBefore.get(voiceId);
        return was !== undefined && !isSameValue(was, treatment);
      })
      .map(({ voiceId }) => voiceId),
  };
}

import { applyRetiming } from "./apply-retiming.ts";
import { arrange, isNoArranging, unarranging } from "./arrange.ts";
import type { Edit } from "./edit-kinds.ts";
import type { NoteStream } from "./index.ts";
import { turnSides } from "./other-side.ts";
import { type ChangedMessage, compareHits, type Hit, type Pattern } from "./pattern.ts";
import { isSameValue, StaleEditError } from "./stale.ts";

/**
 * Makes the next pattern.
 * @throws StaleEditError if something that the edit names is gone or holds another value; it is never bent to fit
 */
export function applyEdit(pattern: Pattern, edit: Edit): Pattern {
  switch (edit.kind) {
    case "moveHits": {
      const hitsById = indexHits(pattern);
      for (const { hitId, fromTick, toTick } of edit.moves) {
        hitsById.set(hitId, { ...expectHit(hitsById, hitId, "pinnedTick", fromTick), pinnedTick: toTick });
      }
      // A map keeps its order, and moves do not touch what hits are sorted by, except for hits added by hand.
      return { ...pattern, hits: [...hitsById.values()].sort(compareHits) };
    }
    case "setVelocity": {
      const hitsById = indexHits(pattern);
      for (const { hitId, fromVelocity, toVelocity } of edit.changes) {
        hitsById.set(hitId, {
          ...expectHit(hitsById, hitId, "pinnedVelocity", fromVelocity),
          pinnedVelocity: toVelocity,
        });
      }
      return { ...pattern, hits: [...hitsById.values()] };
    }
    case "muteHits": {
      const hitsById = indexHits(pattern);
      for (const hitId of edit.hitIds) {
        const { isMuted: _, ...hit } = expectHit(hitsById, hitId, "isMuted", edit.toIsMuted ? undefined : true);
        hitsById.set(hitId, edit.toIsMuted ? { ...hit, isMuted: true } : hit);
      }
      return { ...pattern, hits: [...hitsById.values()] };
    }
    case "setLengths": {
      const hitsById = indexHits(pattern);
      for (const { hitId, from, to } of edit.changes) {
        const { lengthTicks: _, ...hit } = expectHit(hitsById, hitId, "lengthTicks", from ?? undefined);
        hitsById.set(hitId, to === null ? hit : { ...hit, lengthTicks: to });
      }
      return { ...pattern, hits: [...hitsById.values()] };
    }
    case "markHits": {
      const hitsById = indexHits(pattern);
      for (const { hitId, from, to } of edit.changes) {
        expectHit(hitsById, hitId, "role", from.role);
        const marked = expectHit(hitsById, hitId, "swingSharePercent", from.swingSharePercent);
        const { role: _role, swingSharePercent: _share, ...hit } = marked;
        hitsById.set(hitId, { ...hit, ...to });
      }
      return { ...pattern, hits: [...hitsById.values()] };
    }
    case "addHits":
      return { ...pattern, hits: withHits(pattern, edit.hits) };
    case "removeHits":
      return { ...pattern, hits: withoutHits(pattern, edit.hits) };
    case "setTreatments": {
      const lanesById = new Map(pattern.lanes.map((lane) => [lane.voiceId, lane]));
      for (const { voiceId, from, to } of edit.changes) {
        const lane = lanesById.get(voiceId);
        if (!lane || !isSameValue(lane.treatment, from)) {
          throw new StaleEditError(`The settings of ${voiceId} have changed since this edit was made.`);
        }
        lanesById.set(voiceId, { ...lane, treatment: to });
      }
      return { ...pattern, lanes: [...lanesById.values()] };
    }
    case "setDrumStream": {
      const { streamIndex, toIsDrums, hits, fromLanes, toLanes } = edit.change;
      const stream = pattern.streams[streamIndex];
      if (!stream || stream.isDrums === toIsDrums || !isSameValue(pattern.lanes, fromLanes)) {
        throw new StaleEditError("The tracks have changed since this edit was made.");
      }
      const streams = pattern.streams.map(
        (other): NoteStream => (other === stream ? { ...stream, isDrums: toIsDrums } : other),
      );
      const nextHits = toIsDrums ? withHits(pattern, hits) : withoutHits(pattern, hits);
      return { ...pattern, streams, lanes: toLanes, hits: nextHits };
    }
    case "reassignHits": {
      if (!isSameValue(pattern.lanes, edit.fromLanes))
        throw new StaleEditError("The lanes have changed since this edit was made.");
      if (edit.noteMaps && !isSameValue(pattern.noteMap, edit.noteMaps.from)) {
        throw new StaleEditError("The note map has changed since this edit was made.");
      }
      const hitsById = indexHits(pattern);
      for (const { hitId, from, to } of edit.changes) {
        expectHit(hitsById, hitId, "voiceId", from.voiceId);
        hitsById.set(hitId, { ...expectHit(hitsById, hitId, "articulationId", from.articulationId), ...to });
      }
      const noteMap = edit.noteMaps?.to ?? pattern.noteMap;
      return { ...pattern, noteMap, lanes: edit.toLanes, hits: [...hitsById.values()] };
    }
    case "setOutgoingMap":
      if (!isSameValue(pattern.outgoingMap, edit.from)) {
        throw new StaleEditError("The outgoing map has changed since this edit was made.");
      }
      return { ...pattern, outgoingMap: edit.to };
    case "changeMessages": {
      const changedMessages: Record<string, ChangedMessage> = { ...pattern.changedMessages };
      for (const { messageId, from, to } of edit.changes) {
        if (!isSameValue(changedMessages[messageId], from)) {
          throw new StaleEditError(`The message ${messageId} has changed since this edit was made.`);
        }
        if (to === undefined) delete changedMessages[messageId];
        else changedMessages[messageId] = to;
      }
      if (!edit.times) return { ...pattern, changedMessages };
      const { meters, tempos } = pattern;
      if (!isSameValue({ meters, tempos }, edit.times.from)) {
        throw new StaleEditError("Meter or tempo have changed since this edit was made.");
      }
      return { ...pattern, changedMessages, ...edit.times.to };
    }
    case "retime":
      return applyRetiming(pattern, edit);
    case "arrange": {
      const { arrangement: before, ...rest } = pattern;
      const arrangement = arrange(before, edit);
      return arrangement ? { ...rest, arrangement } : rest;
    }
    case "keepSide": {
      const { otherSide = null, ...rest } = pattern;
      if (!isSameValue(otherSide, edit.from)) throw new StaleEditError("Another set of settings is kept by now.");
      return edit.to ? { ...rest, otherSide: edit.to } : rest;
    }
    case "turnSide":
      if (!pattern.otherSide) throw new StaleEditError("No second set of settings is kept.");
      return turnSides(pattern);
    case "together":
      return edit.edits.reduce(applyEdit, pattern);
    default:
      return edit satisfies never;
  }
}

function indexHits(pattern: Pattern): Map<string, Hit> {
  return new Map(pattern.hits.map((hit) => [hit.id, hit]));
}

function expectHit<
  Field extends
    | "pinnedTick"
    | "pinnedVelocity"
    | "voiceId"
    | "articulationId"
    | "isMuted"
    | "lengthTicks"
    | "role"
    | "swingSharePercent",
>(hitsById: ReadonlyMap<string, Hit>, hitId: string, field: Field, value: Hit[Field]): Hit {
  const hit = hitsById.get(hitId);
  if (!hit) throw new StaleEditError(`The hit ${hitId} is no longer there.`);
  if (hit[field] !== value) throw new StaleEditError(`The hit ${hitId} has changed since this edit was made.`);
  return hit;
}

function withHits(pattern: Pattern, hits: readonly Hit[]): readonly Hit[] {
  const hitsById = indexHits(pattern);
  for (const hit of hits) {
    if (hitsById.has(hit.id)) throw new StaleEditError(`The hit ${hit.id} is there already.`);
    hitsById.set(hit.id, hit);
  }
  return [...hitsById.values()].sort(compareHits);
}

function withoutHits(pattern: Pattern, hits: readonly Hit[]): readonly Hit[] {
  const hitsById = indexHits(pattern);
  for (const hit of hits) {
    const present = hitsById.get(hit.id);
    if (!present || !isSameValue(present, hit)) {
      throw new StaleEditError(`The hit ${hit.id} has changed since this edit was made.`);
    }
    hitsById.delete(hit.id);
  }
  return [...hitsById.values()];
}

/** Returns the edit that takes `edit` back. Needs no pattern: each entry carries the value before and after. */
export function invertEdit(edit: Edit): Edit {
  switch (edit.kind) {
    case "moveHits": // reversed, so that a hit named twice is taken back in the opposite order
      return {
        kind: "moveHits",
        moves: edit.moves.toReversed().map((move) => ({ ...move, fromTick: move.toTick, toTick: move.fromTick })),
      };
    case "setVelocity":
      return {
        kind: "setVelocity",
        changes: edit.changes
          .toReversed()
          .map((change) => ({ ...change, fromVelocity: change.toVelocity, toVelocity: change.fromVelocity })),
      };
    case "muteHits":
      return { ...edit, toIsMuted: !edit.toIsMuted };
    case "setLengths": {
      const changes = edit.changes.toReversed().map(({ hitId, from, to }) => ({ hitId, from: to, to: from }));
      return { kind: "setLengths", changes };
    }
    case "markHits": {
      const changes = edit.changes.toReversed().map(({ hitId, from, to }) => ({ hitId, from: to, to: from }));
      return { kind: "markHits", changes };
    }
    case "addHits":
      return { kind: "removeHits", hits: edit.hits };
    case "removeHits":
      return { kind: "addHits", hits: edit.hits };
    case "setTreatments":
      return {
        kind: "setTreatments",
        changes: edit.changes.toReversed().map(({ voiceId, from, to }) => ({ voiceId, from: to, to: from })),
      };
    case "setDrumStream": {
      const { streamIndex, toIsDrums, hits, fromLanes, toLanes } = edit.change;
      const change = { streamIndex, toIsDrums: !toIsDrums, hits, fromLanes: toLanes, toLanes: fromLanes };
      return { kind: "setDrumStream", change };
    }
    case "reassignHits": {
      const { noteMaps, fromLanes, toLanes } = edit;
      return {
        kind: "reassignHits",
        changes: edit.changes.toReversed().map(({ hitId, from, to }) => ({ hitId, from: to, to: from })),
        noteMaps: noteMaps && { from: noteMaps.to, to: noteMaps.from },
        fromLanes: toLanes,
        toLanes: fromLanes,
      };
    }
    case "setOutgoingMap":
      return { kind: "setOutgoingMap", from: edit.to, to: edit.from };
    case "changeMessages": {
      const changes = edit.changes.toReversed().map(({ messageId, from, to }) => ({
        messageId,
        // An absent value is "as it came" and must stay absent through JSON.
        ...(to === undefined ? {} : { from: to }),
        ...(from === undefined ? {} : { to: from }),
      }));
      return { kind: "changeMessages", changes, times: edit.times && { from: edit.times.to, to: edit.times.from } };
    }
    case "retime": {
      const moves = edit.moves.map(({ hitId, fromTick, toTick }) => ({ hitId, fromTick: toTick, toTick: fromTick }));
      return { kind: "retime", from: edit.to, to: edit.from, moves: moves.toReversed() };
    }
    case "arrange":
      return { kind: "arrange", ...unarranging(edit) };
    case "keepSide":
      return { kind: "keepSide", from: edit.to, to: edit.from };
    case "turnSide":
      return edit;
    case "together":
      return { kind: "together", edits: edit.edits.toReversed().map(invertEdit) };
    default:
      return edit satisfies never;
  }
}

/** Whether applying the edit would leave the pattern as it is. Such edits are not stored. */
export function isEmptyEdit(edit: Edit): boolean {
  switch (edit.kind) {
    case "moveHits":
      return edit.moves.every((move) => move.fromTick === move.toTick);
    case "setVelocity":
      return edit.changes.every((change) => change.fromVelocity === change.toVelocity);
    case "muteHits":
      return edit.hitIds.length === 0;
    case "setLengths":
      return edit.changes.every((change) => change.from === change.to);
    case "addHits":
    case "removeHits":
      return edit.hits.length === 0;
    case "markHits":
    case "setTreatments":
      return edit.changes.every((change) => isSameValue(change.from, change.to));
    case "setDrumStream":
      return false;
    case "reassignHits":
      return (
        edit.changes.length === 0 &&
        (edit.noteMaps === null || isSameValue(edit.noteMaps.from, edit.noteMaps.to)) &&
        isSameValue(edit.fromLanes, edit.toLanes)
      );
    case "setOutgoingMap":
      return isSameValue(edit.from, edit.to);
    case "changeMessages":
      return edit.changes.every(({ from, to }) => isSameValue(from, to));
    case "retime":
      return isSameValue(edit.from, edit.to) && edit.moves.every((move) => move.fromTick === move.toTick);
    case "arrange":
      return isNoArranging(edit);
    case "keepSide":
      return isSameValue(edit.from, edit.to);
    case "turnSide":
      return false;
    case "together":
      return edit.edits.every(isEmptyEdit);
    default:
      return edit satisfies never;
  }
}

import { arranging } from "../document/arrange.ts";
import { type Arrangement, NO_ARRANGEMENT, type SongPattern, treatmentIn } from "../document/arrangement.ts";
import type { Edit, TreatmentChange } from "../document/index.ts";
import { applyEdit } from "../document/index.ts";
import type { Lane, Pattern } from "../document/pattern.ts";
import { isSameValue } from "../document/stale.ts";
import type { FeelTreatment, Treatment } from "../document/treatment.ts";
import type { Bar } from "../time/index.ts";
import type { CleanedHits } from "../treat.ts";
import { changeCells, layOnCells } from "./change-cells.ts";

// The take seen through one of its patterns: its lanes have the settings that they have there, and what is set is set there alone.

/** The pattern of a song that is looked through; undefined if there is none, or none any more. */
export function scopeOf(
  { arrangement }: Pick<Pattern, "arrangement">,
  patternId: string | null,
): SongPattern | undefined {
  return patternId === null ? undefined : arrangement?.patterns.find(({ id }) => id === patternId);
}

/** The take with the settings that its voices have in a pattern. @param before an earlier view: what is the same stays the same object */
export function scopedTake(take: Pattern, scope: SongPattern | undefined, before?: Pattern): Pattern {
  if (!scope) return take;
  const arrangement = take.arrangement ?? NO_ARRANGEMENT;
  const known = new Map(before?.lanes.map((lane) => [lane.voiceId, lane]));
  const lanes = take.lanes.map((lane): Lane => {
    const { treatment } = treatmentIn(arrangement, scope, lane);
    const same = known.get(lane.voiceId);
    if (same && isSameValue(same.treatment, treatment)) return same;
    return treatment === lane.treatment ? lane : { ...lane, treatment };
  });
  return { ...take, lanes };
}

/**
 * An edit that was made on the take as a pattern has it, as an edit of the take: what it sets of timing, dynamics and feel becomes the
 * pattern's own; what it does to hits, and to roles and repair, is done to the take, since patterns share their hits.
 */
export function scopedEdit(take: Pattern, scope: SongPattern | undefined, edit: Edit): Edit {
  if (!scope) return edit;
  switch (edit.kind) {
    case "setTreatments":
      return together(edit.changes.reduce<Progress>(withChange(scope), { take, edits: [] }).edits);
    case "reassignHits":
      return { ...edit, fromLanes: take.lanes, toLanes: ofTake(take, edit.toLanes) };
    case "setDrumStream": {
      const { change } = edit;
      return { ...edit, change: { ...change, fromLanes: take.lanes, toLanes: ofTake(take, change.toLanes) } };
    }
    case "together": {
      let now = take;
      const edits = edit.edits.flatMap((one) => {
        const own = scopedEdit(now, scopeOf(now, scope.id), one);
        now = applyEdit(now, own);
        return own.kind === "together" ? own.edits : [own];
      });
      return { kind: "together", edits };
    }
    default:
      return edit;
  }
}

interface Progress {
  readonly take: Pattern;
  readonly edits: readonly Edit[];
}

function withChange(scope: SongPattern) {
  return ({ take, edits }: Progress, change: TreatmentChange): Progress => {
    let now = take;
    const next = [...edits];
    const add = (edit: Edit) => {
      next.push(edit);
      now = applyEdit(now, edit);
    };
    const arrangement = take.arrangement ?? NO_ARRANGEMENT;
    const wanted = withCell(arrangement, scope.id, change);
    if (wanted !== arrangement) add({ kind: "arrange", ...arranging(arrangement, wanted) });
    const lane = take.lanes.find(({ voiceId }) => voiceId === change.voiceId);
    const shared = lane && withShared(lane.treatment, change);
    if (lane && shared && !isSameValue(shared, lane.treatment)) {
      const own = { voiceId: lane.voiceId, from: lane.treatment, to: shared };
      add({ kind: "setTreatments", changes: [own] });
    }
    return { take: now, edits: next };
  };
}

/** The cell of a voice with the steps that a change made otherwise. */
function withCell(arrangement: Arrangement, patternId: string, { voiceId, from, to }: TreatmentChange): Arrangement {
  const places = [{ patternId, voiceId }];
  let next = arrangement;
  if (!isSameValue(from.timing, to.timing)) {
    const { pushMs } = to.timing;
    const isPushOnly = isSameValue({ ...from.timing, pushMs }, to.timing);
    next = changeCells(next, places, () => (isPushOnly ? { pushMs } : { timing: to.timing, pushMs: undefined }));
  }
  if (!isSameValue(from.dynamics, to.dynamics)) next = changeCells(next, places, () => ({ dynamics: to.dynamics }));
  if (!isSameValue(from.feel, to.feel)) next = withFeelOf(next, places, to.feel);
  return next;
}

function withFeelOf(
  arrangement: Arrangement,
  places: Parameters<typeof layOnCells>[1],
  feel: FeelTreatment | undefined,
): Arrangement {
  if (!feel?.isOn) return changeCells(arrangement, places, () => ({ feel: null }));
  const { groove, timingPercent, accentPercent } = feel;
  const laid = layOnCells(arrangement, places, groove, { timingPercent, accentPercent });
  return changeCells(laid, places, (cell) => ({ feel: cell.feel && { ...cell.feel, timingPercent, accentPercent } }));
}

/** Steps that a pattern cannot have of its own: what a hit is, whether anybody played it, and how long notes last. */
function withShared(treatment: Treatment, { from, to }: TreatmentChange): Treatment {
  const { repair, roles, lengths, ...rest } = treatment;
  const nextRepair = isSameValue(from.repair, to.repair) ? repair : to.repair;
  const nextRoles = isSameValue(from.roles, to.roles) ? roles : to.roles;
  const nextLengths = isSameValue(from.lengths, to.lengths) ? lengths : to.lengths;
  return {
    ...(nextRepair ? { repair: nextRepair } : {}),
    ...(nextRoles ? { roles: nextRoles } : {}),
    ...(nextLengths ? { lengths: nextLengths } : {}),
    ...rest,
  };
}

/** Lanes as the take has them, and new ones as they are. */
function ofTake({ lanes }: Pattern, wanted: readonly Lane[]): readonly Lane[] {
  const own = new Map(lanes.map((lane) => [lane.voiceId, lane]));
  return wanted.map((lane) => own.get(lane.voiceId) ?? lane);
}

function together(edits: readonly Edit[]): Edit {
  return edits.length === 1 ? edits[0]! : { kind: "together", edits };
}

/** Which hits of a lane are in the bars of a pattern: 1 for each that is. @param slotTicks where each hit belongs */
export function rowsInScope({ bars }: SongPattern, slotTicks: Float64Array, takeBars: readonly Bar[]): Uint8Array {
  const own = new Set(bars);
  const isIn = new Uint8Array(slotTicks.length);
  let bar = 0;
  for (let row = 0; row < slotTicks.length; row++) {
    while (bar + 1 < takeBars.length && slotTicks[row]! >= takeBars[bar]!.endTick) bar++;
    isIn[row] = own.has(bar) ? 1 : 0;
  }
  return isIn;
}

/** Hits in the bars of a pattern as they are there, and the others as they are in the take. */
export function spliced(inside: CleanedHits, outside: CleanedHits, isIn: Uint8Array): CleanedHits {
  const mixed = <Column extends Float64Array | Uint8Array>(own: Column, other: Column): Column => {
    const column = own.slice() as Column;
    for (let row = 0; row < column.length; row++) if (isIn[row] === 0) column[row] = other[row]!;
    return column;
  };
  const still = new Float64Array(isIn.length);
  const hasFeel = inside.feelTicks !== null || outside.feelTicks !== null;
  return {
    ticks: mixed(inside.ticks, outside.ticks),
    velocities: mixed(inside.velocities, outside.velocities),
    clippedCount: inside.clippedCount,
    slotTicks: mixed(inside.slotTicks, outside.slotTicks),
    placedTicks: mixed(inside.placedTicks, outside.placedTicks),
    driftsMs: mixed(inside.driftsMs, outside.driftsMs),
    flags: mixed(inside.flags, outside.flags),
    feelTicks: hasFeel ? mixed(inside.feelTicks ?? still, outside.feelTicks ?? still) : null,
    isLeftOut: mixed(inside.isLeftOut, outside.isLeftOut),
  };
}

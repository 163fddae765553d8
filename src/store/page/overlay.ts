import type { PlacedHit } from "../../core/commands/index.ts";
import type { VelocityChange } from "../../core/document/index.ts";
import { ROLES, roleOf } from "../../core/document/index.ts";
import { remembering } from "../../core/remember.ts";
import { PlanFinder, tickAfterMs, tickToMs } from "../../core/time/index.ts";
import type { LaneView } from "../bench/lane-view.ts";

/** Where each hit is in the lanes; looked up for thousands of hits on every frame of a drag, in lanes that stay the same. */
const rememberPlaces = remembering<
  readonly LaneView[],
  ReadonlyMap<string, readonly [laneIndex: number, row: number]>
>();

const placesOf = (lanes: readonly LaneView[]) =>
  rememberPlaces(lanes, [], () => {
    const made = new Map<string, readonly [number, number]>();
    for (const [laneIndex, lane] of lanes.entries()) {
      for (const [row, hit] of lane.hits.entries()) made.set(hit.id, [laneIndex, row]);
    }
    return made;
  });

/** The rows of dragged hits in one lane, and where they were when the drag began. */
interface DraggedRows {
  readonly laneIndex: number;
  readonly rows: Int32Array;
  readonly ticks: Float64Array;
}

/** What is dragged stays the same from the first frame of a drag to the last. */
const rememberDragged = remembering<readonly PlacedHit[], readonly DraggedRows[]>();

const rowsOfDragged = (lanes: readonly LaneView[], placed: readonly PlacedHit[]) =>
  rememberDragged(placed, [lanes], () =>
    [...rowsByLane(lanes, placed, ({ hit, tick }) => [hit.id, tick])].map(([laneIndex, rows]) => ({
      laneIndex,
      rows: Int32Array.from(rows, ([row]) => row),
      ticks: Float64Array.from(rows, ([, tick]) => tick),
    })),
  );

/**
 * The lanes as a drag would have them, without treating them anew: what is dragged goes where the pointer has it, and all
 * else stays where it is until it is let go. Treating 50,000 hits on every frame would not keep up with the hand.
 */
export function lanesWithMoved(
  lanes: readonly LaneView[],
  placed: readonly PlacedHit[],
  deltaTicks: number,
): readonly LaneView[] {
  const moved = lanes.slice();
  for (const { laneIndex, rows, ticks: fromTicks } of rowsOfDragged(lanes, placed)) {
    const lane = lanes[laneIndex]!;
    const { meterMap, tempoMap } = lane.maps;
    const ticks = lane.cleaned.ticks.slice();
    const slotTicks = lane.cleaned.slotTicks.slice();
    const cleanedMs = lane.cleanedMs.slice();
    const { timing } = lane.treatment;
    const slots = new PlanFinder(timing, meterMap);
    for (let index = 0; index < rows.length; index++) {
      const row = rows[index]!;
      const tick = fromTicks[index]! + deltaTicks;
      ticks[row] = tick;
      slotTicks[row] = slots.find(tickAfterMs(tempoMap, tick, -timing.pocketMs)).slotTick;
      cleanedMs[row] = tickToMs(tempoMap, tick);
    }
    moved[laneIndex] = { ...lane, cleaned: { ...lane.cleaned, ticks, slotTicks }, cleanedMs };
  }
  return moved;
}

/** The lanes with some hits louder or softer. */
export function lanesWithVelocities(
  lanes: readonly LaneView[],
  changes: readonly VelocityChange[],
): readonly LaneView[] {
  const byLane = rowsByLane(lanes, changes, ({ hitId, toVelocity }) =>
    toVelocity === null ? null : [hitId, toVelocity],
  );
  return lanes.map((lane, laneIndex) => {
    const rows = byLane.get(laneIndex);
    if (!rows) return lane;
    const velocities = lane.cleaned.velocities.slice();
    const roles = lane.roles.slice();
    for (const [row, velocity] of rows) {
      velocities[row] = velocity;
      if (!lane.hits[row]!.role) roles[row] = ROLES.indexOf(roleOf(velocity, lane.roleBorders));
    }
    return { ...lane, roles, cleaned: { ...lane.cleaned, velocities } };
  });
}

function rowsByLane<Change>(
  lanes: readonly LaneView[],
  changes: readonly Change[],
  read: (change: Change) => readonly [hitId: string, value: number] | null,
): ReadonlyMap<number, readonly (readonly [row: number, value: number])[]> {
  const places = placesOf(lanes);
  const byLane = new Map<number, (readonly [number, number])[]>();
  for (const change of changes) {
    const wanted = read(change);
    const place = wanted && places.get(wanted[0]);
    if (!wanted || !place) continue;
    const rows = byLane.get(place[0]);
    if (rows) rows.push([place[1], wanted[1]]);
    else byLane.set(place[0], [[place[1], wanted[1]]]);
  }
  return byLane;
}

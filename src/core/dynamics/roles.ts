import type { RoleBorders } from "../document/role.ts";
import { remembering } from "../remember.ts";
import { barAt, type MeterMap } from "../time/index.ts";
import { findRoleBorders } from "./find-roles.ts";

/** What the roles of a lane are told from. */
interface RoleColumns {
  /** Ascending. */
  readonly ticks: Float64Array;
  readonly velocities: Float64Array;
  readonly recordedVelocities: Float64Array;
  /** 0 for none, otherwise one more than the place in `ROLES`. */
  readonly roleMarks: Uint8Array | null;
}

/** What was found for a lane is asked for by several steps, on every frame of a drag. */
const rememberBorders = remembering<RoleColumns, RoleBorders>();
const rememberRoles = remembering<RoleColumns, Uint8Array>();

/** The borders of a lane: those that a hand has set, else what its loudness shows, and where in the bar it is played. */
export function bordersOf(lane: RoleColumns, meterMap: MeterMap, set?: RoleBorders): RoleBorders {
  return (
    set ??
    rememberBorders(lane, [meterMap], () => findRoleBorders(lane.recordedVelocities, placesInBar(lane.ticks, meterMap)))
  );
}

/** Twelfths of a quarter on which sixteenths and triplets begin, and the next quarter. */
const SLOTS = [0, 3, 4, 6, 8, 9, 12];

/** The place of the bar that each hit is nearest to, in twelfths of a quarter. */
function placesInBar(ticks: Float64Array, meterMap: MeterMap): Int32Array {
  const places = new Int32Array(ticks.length);
  let bar = barAt(meterMap, 0);
  for (let row = 0; row < places.length; row++) {
    const tick = ticks[row]!;
    if (tick < bar.startTick || tick >= bar.endTick) bar = barAt(meterMap, tick);
    const twelfths = ((tick - bar.startTick) / meterMap.ppq) * 12;
    const inQuarter = twelfths % 12;
    const slot = SLOTS.reduce((best, one) => (Math.abs(one - inQuarter) < Math.abs(best - inQuarter) ? one : best));
    const place = Math.round(twelfths - inQuarter) + slot;
    places[row] = place * meterMap.ppq >= (bar.endTick - bar.startTick) * 12 ? 0 : place;
  }
  return places;
}

/**
 * The role of each hit of a lane, by its loudness before treatment unless a hand has said otherwise.
 * @param set borders that a hand has moved
 * @returns places in `ROLES`
 */
export function rolesOf(lane: RoleColumns, meterMap: MeterMap, set?: RoleBorders): Uint8Array {
  const borders = bordersOf(lane, meterMap, set);
  return rememberRoles(lane, [borders], () => rolesBy(lane, borders));
}

function rolesBy({ velocities, roleMarks }: RoleColumns, { ghostTop, accentBottom }: RoleBorders): Uint8Array {
  const roles = new Uint8Array(velocities.length);
  for (let row = 0; row < roles.length; row++) {
    const mark = roleMarks?.[row] ?? 0;
    const velocity = velocities[row]!;
    roles[row] = mark > 0 ? mark - 1 : velocity <= ghostTop ? 0 : velocity >= accentBottom ? 2 : 1;
  }
  return roles;
}

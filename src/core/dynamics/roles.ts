import type { RoleBorders } from "../document/role.ts";
import { remembering } from "../remember.ts";
import { findRoleBorders } from "./find-roles.ts";

/** What the roles of a lane are told from. */
interface RoleColumns {
  readonly velocities: Float64Array;
  readonly recordedVelocities: Float64Array;
  /** 0 for none, otherwise one more than the place in `ROLES`. */
  readonly roleMarks: Uint8Array | null;
}

/** What was found for a lane is asked for by several steps, on every frame of a drag. */
const rememberBorders = remembering<RoleColumns, RoleBorders>();
const rememberRoles = remembering<RoleColumns, Uint8Array>();

/** The borders of a lane: those that a hand has set, else the natural breaks of what was recorded. */
export function bordersOf(lane: RoleColumns, set?: RoleBorders): RoleBorders {
  return set ?? rememberBorders(lane, [], () => findRoleBorders(lane.recordedVelocities));
}

/**
 * The role of each hit of a lane, by its loudness before treatment unless a hand has said otherwise.
 * @param set borders that a hand has moved
 * @returns places in `ROLES`
 */
export function rolesOf(lane: RoleColumns, set?: RoleBorders): Uint8Array {
  const borders = bordersOf(lane, set);
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

import type { RoleBorders } from "../document/role.ts";

/** Another way to read what a voice plays. */
export interface OtherBorders {
  /** `Ghosts and normal`. */
  readonly name: string;
  readonly borders: RoleBorders;
}

/**
 * Where a voice plays two loudnesses, the other pair of roles that they can be: only who played them knows which was meant.
 * @returns null where it plays one or three
 */
export function otherBorders({ ghostTop, accentBottom }: RoleBorders): OtherBorders | null {
  const hasGhosts = ghostTop > 0 && ghostTop < 127;
  const hasAccents = accentBottom > 1 && accentBottom < 128;
  if (!hasGhosts && hasAccents) {
    return { name: "Ghosts and normal", borders: { ghostTop: accentBottom - 1, accentBottom: 128 } };
  }
  const areTwo = hasGhosts && (!hasAccents || accentBottom === ghostTop + 1);
  if (!areTwo) return null;
  return hasAccents
    ? { name: "Ghosts and normal", borders: { ghostTop, accentBottom: 128 } }
    : { name: "Normal and accents", borders: { ghostTop: 0, accentBottom: ghostTop + 1 } };
}

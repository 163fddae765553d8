/** What the loudness of a hit means in its voice, from the softest. */
export const ROLES = ["ghost", "stroke", "accent"] as const;
export type Role = (typeof ROLES)[number];

/** What so many hits of a role are called: `ghosts`, `accent`, and `normal` however many. */
export function roleWord(role: Role, count: number): string {
  if (role === "stroke") return "normal";
  return count === 1 ? role : `${role}s`;
}

/** A hit up to `ghostTop` is a ghost, one from `accentBottom` on is an accent. */
export interface RoleBorders {
  /** 0 if the voice has no ghosts. */
  readonly ghostTop: number;
  /** 128 if the voice has no accents. */
  readonly accentBottom: number;
}

export function roleOf(velocity: number, { ghostTop, accentBottom }: RoleBorders): Role {
  return velocity <= ghostTop ? "ghost" : velocity >= accentBottom ? "accent" : "stroke";
}

/** What the loudness of a hit means in its voice. */
export type Role = "ghost" | "stroke" | "accent";

/** A hit up to `ghostTop` is a ghost, one from `accentBottom` on is an accent. */
export interface RoleBorders {
  /** 0 if the voice has no ghosts. */
  readonly ghostTop: number;
  /** 128 if the voice has no accents. */
  readonly accentBottom: number;
}

/** Loudnesses closer than this, in velocity, are one role to the ear. */
const SMALLEST_GAP = 20;
/** Of two groups alone, the weaker is one of ghosts up to this mean. */
const LOUDEST_GHOSTS = 60;

/**
 * Finds the borders between ghosts, strokes and accents from a voice's own velocities: the split into three groups with
 * the least variance inside them. Groups that are too close to be heard apart are joined.
 * @param velocities 1 to 127
 * @source natural breaks (Jenks), found exactly over the 127 possible values
 */
export function findRoleBorders(velocities: ArrayLike<number>): RoleBorders {
  // Sums over velocities 0 to v, so that the variance of any group is known at once.
  const counts = new Float64Array(129);
  const sums = new Float64Array(129);
  const histogram = new Float64Array(128);
  for (let index = 0; index < velocities.length; index++) histogram[velocities[index]!]!++;
  for (let velocity = 0; velocity < 128; velocity++) {
    counts[velocity + 1] = counts[velocity]! + histogram[velocity]!;
    sums[velocity + 1] = sums[velocity]! + velocity * histogram[velocity]!;
  }
  // Least variance inside the groups is the same as the largest sum of squared group sums over their counts.
  const worth = (from: number, to: number) => {
    const count = counts[to]! - counts[from]!;
    return count === 0 ? 0 : (sums[to]! - sums[from]!) ** 2 / count;
  };
  const mean = (from: number, to: number) => (sums[to]! - sums[from]!) / (counts[to]! - counts[from]!);
  let best = { worth: -1, low: 1, high: 128 };
  for (let low = 1; low < 128; low++) {
    for (let high = low; high <= 128; high++) {
      const total = worth(0, low) + worth(low, high) + worth(high, 128);
      if (total > best.worth + 1e-9) best = { worth: total, low, high };
    }
  }
  const { low, high } = best;
  const groups = [[0, low] as const, [low, high] as const, [high, 128] as const].filter(
    ([from, to]) => counts[to]! > counts[from]!,
  );
  // A voice that plays two loudnesses has no third group: the weak are ghosts if they are as weak as those, else plain strokes.
  if (groups.length === 2) {
    const [weak, strong] = groups as [readonly [number, number], readonly [number, number]];
    const isApart = mean(...strong) - mean(...weak) >= SMALLEST_GAP;
    const isGhostly = isApart && mean(...weak) <= LOUDEST_GHOSTS;
    return { ghostTop: isGhostly ? strong[0] - 1 : 0, accentBottom: isApart && !isGhostly ? strong[0] : 128 };
  }
  const hasGhosts = mean(low, high) - mean(0, low) >= SMALLEST_GAP;
  const hasAccents = mean(high, 128) - mean(low, high) >= SMALLEST_GAP;
  return { ghostTop: hasGhosts ? low - 1 : 0, accentBottom: hasAccents ? high : 128 };
}

export function roleOf(velocity: number, { ghostTop, accentBottom }: RoleBorders): Role {
  return velocity <= ghostTop ? "ghost" : velocity >= accentBottom ? "accent" : "stroke";
}

import type { LaneColumns } from "../document/pattern.ts";
import type { RoleBorders } from "../document/role.ts";
import type { TimingTreatment } from "../document/treatment.ts";
import { rolesOf } from "../dynamics/roles.ts";
import { type Grid, type MeterMap, type NearestSlots, PlanFinder, SlotFinder, withSwingShare } from "../time/index.ts";

/** What decides which slots a hit may have. */
export type SlotPlan = Pick<TimingTreatment, "grid" | "stretches" | "ghostGrid" | "byRole">;

/** Finds slots around a tick, on the grid of one hit. It answers with itself, until the next call. */
interface HitFinder extends NearestSlots {
  readonly stepTicks: number;
  find(tick: number): NearestSlots;
}

const ALL_OF_IT = 100;

/**
 * The finder for each hit of a lane. As a rule it is one for all; ghosts may have a grid of their own, and a role, or a hit
 * that a hand has marked, may follow less of the swing.
 * @param borders of the roles, where a hand has moved them
 */
export function hitFinders(
  lane: LaneColumns,
  plan: SlotPlan,
  meterMap: MeterMap,
  borders?: RoleBorders,
): (row: number) => HitFinder {
  const { stretches = [], ghostGrid, byRole } = plan;
  const { swingShares } = lane;
  const finderWith = (whole: Grid, sharePercent: number): HitFinder => {
    const grid = withSwingShare(whole, sharePercent);
    if (stretches.length === 0) return new SlotFinder(grid, meterMap);
    const shared = stretches.map((one) => ({ ...one, grid: withSwingShare(one.grid, sharePercent) }));
    return new PlanFinder({ grid, stretches: shared }, meterMap);
  };
  const usual = finderWith(plan.grid, ALL_OF_IT);
  if (!ghostGrid && !byRole && !swingShares) return () => usual;
  const roles = rolesOf(lane, meterMap, borders);
  const shareOfRole = [byRole?.ghost, undefined, byRole?.accent].map((one) => one?.swingSharePercent ?? ALL_OF_IT);
  const [finders, ghostFinders] = [new Map<number, HitFinder>([[ALL_OF_IT, usual]]), new Map<number, HitFinder>()];
  return (row) => {
    const role = roles[row]!;
    const marked = swingShares?.[row] ?? -1;
    const share = marked >= 0 ? marked : shareOfRole[role]!;
    const own = role === 0 ? ghostGrid : undefined;
    const made = own ? ghostFinders : finders;
    const finder = made.get(share) ?? finderWith(own ?? plan.grid, share);
    made.set(share, finder);
    return finder;
  };
}

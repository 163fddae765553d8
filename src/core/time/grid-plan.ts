import { type Grid, gridStepTicks, type NearestSlots, SlotFinder } from "./grid.ts";
import type { MeterMap } from "./meter-map.ts";

/** A stretch of beats or bars in which a voice follows another grid than elsewhere. */
export interface GridStretch {
  readonly startTick: number;
  /** Where it ends, not included. */
  readonly endTick: number;
  readonly grid: Grid;
}

/** The grid of a voice: one, except in some stretches, which are in order and apart. */
export interface GridPlan {
  readonly grid: Grid;
  readonly stretches?: readonly GridStretch[];
  /** What ghost notes follow instead of the one grid, as finer steps or with a swing of their own. */
  readonly ghostGrid?: Grid;
}

/** The stretch that a tick lies in; undefined if it follows the one grid of the plan. */
export function stretchAt({ stretches = [] }: GridPlan, tick: number): GridStretch | undefined {
  return stretches.find(({ startTick, endTick }) => tick >= startTick && tick < endTick);
}

export function gridAt(plan: GridPlan, tick: number): Grid {
  return stretchAt(plan, tick)?.grid ?? plan.grid;
}

/** What a hand works on at a place: of the grids that a voice has there the finest, so that ghosts can be drawn beside strokes. */
export function handGridAt(plan: GridPlan, tick: number): Grid {
  const { grid, ghostGrid } = plan;
  const usual = ghostGrid && gridStepTicks(ghostGrid, 1) < gridStepTicks(grid, 1) ? ghostGrid : grid;
  return stretchAt(plan, tick)?.grid ?? usual;
}

/** Stretches without what they have between two ticks. */
export function withoutTicks<Stretch extends { readonly startTick: number; readonly endTick: number }>(
  stretches: readonly Stretch[],
  startTick: number,
  endTick: number,
): readonly Stretch[] {
  return stretches.flatMap((one): Stretch[] => [
    ...(one.startTick < startTick ? [{ ...one, endTick: Math.min(one.endTick, startTick) }] : []),
    ...(one.endTick > endTick ? [{ ...one, startTick: Math.max(one.startTick, endTick) }] : []),
  ]);
}

/**
 * Lays another grid over a stretch; null gives the stretch back to the plan's one grid. What other stretches have of it is cut
 * off, and neighbours on the same grid become one.
 */
export function withStretch(
  plan: GridPlan,
  startTick: number,
  endTick: number,
  grid: Grid | null,
): readonly GridStretch[] {
  const cut = withoutTicks(plan.stretches ?? [], startTick, endTick);
  const laid = grid === null ? cut : [...cut, { startTick, endTick, grid }];
  const joined: GridStretch[] = [];
  for (const one of laid.toSorted((a, b) => a.startTick - b.startTick)) {
    const last = joined.at(-1);
    if (last && last.endTick === one.startTick && isSameGrid(last.grid, one.grid)) {
      joined[joined.length - 1] = { ...last, endTick: one.endTick };
    } else joined.push(one);
  }
  return joined;
}

export function isSameGrid(a: Grid, b: Grid): boolean {
  return a.family === b.family && a.denominator === b.denominator && (a.swingPercent ?? 50) === (b.swingPercent ?? 50);
}

/** Slots of steps that are no whole ticks are off by rounding. */
const SAME_TICK = 1e-6;

/** `SlotFinder` for a plan: each tick is sought on the grid of its place. It answers with itself, until the next call. */
export class PlanFinder implements NearestSlots {
  slotTick = 0;
  secondSlotTick = 0;
  /** The length of a step where the last tick was. */
  stepTicks: number;
  readonly #usual: SlotFinder;
  readonly #usualStep: number;
  readonly #stretches: readonly {
    readonly stretch: GridStretch;
    readonly finder: SlotFinder;
    readonly stepTicks: number;
    /** Whether what follows has a slot where it ends. */
    readonly endsOnSlot: boolean;
  }[];
  #at = 0;

  constructor({ grid, stretches = [] }: GridPlan, meterMap: MeterMap) {
    this.#usual = new SlotFinder(grid, meterMap);
    this.#usualStep = gridStepTicks(grid, meterMap.ppq);
    this.stepTicks = this.#usualStep;
    this.#stretches = stretches.map((stretch, index) => {
      const { endTick } = stretch;
      const next = stretches[index + 1];
      const following = next?.startTick === endTick ? new SlotFinder(next.grid, meterMap) : this.#usual;
      return {
        stretch,
        finder: new SlotFinder(stretch.grid, meterMap),
        stepTicks: gridStepTicks(stretch.grid, meterMap.ppq),
        endsOnSlot: Math.abs(following.find(endTick).slotTick - endTick) < SAME_TICK,
      };
    });
  }

  find(tick: number): this {
    // Ticks come in order, so the stretch is looked for from where the last one was.
    while (this.#at > 0 && tick < this.#stretches[this.#at - 1]!.stretch.endTick) this.#at--;
    while (this.#at < this.#stretches.length && tick >= this.#stretches[this.#at]!.stretch.endTick) this.#at++;
    const here = this.#stretches[this.#at];
    const isInside = here !== undefined && tick >= here.stretch.startTick;
    const slots = (isInside ? here.finder : this.#usual).find(tick);
    this.stepTicks = isInside ? here.stepTicks : this.#usualStep;
    this.slotTick = slots.slotTick;
    this.secondSlotTick = slots.secondSlotTick;
    // A little ahead of where a stretch ends a hit is played for what follows, though its own grid may have no slot there, as quarter
    // triplets.
    if (isInside && here.endsOnSlot && here.stretch.endTick - tick < Math.abs(this.slotTick - tick)) {
      this.secondSlotTick = this.slotTick;
      this.slotTick = here.stretch.endTick;
    }
    return this;
  }
}

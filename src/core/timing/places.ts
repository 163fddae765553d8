import type { TimingTreatment } from "../document/treatment.ts";
import { type Bar, barAt, type Grid, gridAt, gridStepTicks, type MeterMap, swingTicks } from "../time/index.ts";

export const PLACES = ["downBeats", "beats", "backBeats", "offBeats", "betweens", "triplets"] as const;
/** Where in the bar a hit belongs, counted from the pulse of the meter. */
export type Place = (typeof PLACES)[number];

/** How near to a place a slot must be, in parts of a quarter. */
const NEAR_QUARTERS = 1 / 24;

/** Where a slot is in its bar, as if it were not swung. */
export interface PlaceInBar {
  readonly bar: Bar;
  readonly inBarTicks: number;
}

type Plan = Pick<TimingTreatment, "grid" | "stretches" | "ghostGrid">;

/** @param slotTick where a hit belongs on the plan of its voice */
export function placeInBar(slotTick: number, plan: Plan, meterMap: MeterMap): PlaceInBar {
  const { bar, inBarTicks } = new PlaceFinder(plan, meterMap).find(slotTick);
  return { bar, inBarTicks };
}

/**
 * `placeInBar` for many slots. It remembers the bar, and answers with itself, since a groove asks it for every hit on every frame
 * of a drag.
 */
export class PlaceFinder implements PlaceInBar {
  bar: Bar;
  inBarTicks = 0;
  readonly #plan: Plan;
  readonly #meterMap: MeterMap;
  readonly #isPlain: boolean;
  /** Of the one grid, where there is no other: asked for once, and not for every hit. */
  readonly #only: { readonly stepTicks: number; readonly lateTicks: number } | null;

  constructor(plan: Plan, meterMap: MeterMap) {
    this.#plan = plan;
    this.#meterMap = meterMap;
    this.bar = barAt(meterMap, 0);
    const grids = [
      plan.grid,
      ...(plan.ghostGrid ? [plan.ghostGrid] : []),
      ...(plan.stretches ?? []).map(({ grid }) => grid),
    ];
    const stepTicks = gridStepTicks(plan.grid, meterMap.ppq);
    this.#only = grids.length === 1 ? { stepTicks, lateTicks: swingTicks(plan.grid, stepTicks) } : null;
    this.#isPlain = grids.every((grid) => swingTicks(grid, 1) === 0);
  }

  find(slotTick: number): this {
    const tick = Math.max(0, slotTick);
    if (tick < this.bar.startTick || tick >= this.bar.endTick) this.bar = barAt(this.#meterMap, tick);
    const inBar = slotTick - this.bar.startTick;
    this.inBarTicks = this.#isPlain ? inBar : this.#unswung(slotTick, inBar);
    return this;
  }

  #unswung(slotTick: number, inBarTicks: number): number {
    if (this.#only) return unswung(inBarTicks, this.#only.stepTicks, this.#only.lateTicks);
    const { ppq } = this.#meterMap;
    const { ghostGrid, stretches } = this.#plan;
    const grid = stretches?.length ? gridAt(this.#plan, slotTick) : this.#plan.grid;
    const even = withoutSwing(inBarTicks, grid, ppq);
    return even ?? (ghostGrid ? withoutSwing(inBarTicks, ghostGrid, ppq) : null) ?? inBarTicks;
  }
}

/**
 * Whether a place in the bar is one of those that a name means. Beats are the pulses of the meter. Off-beats are half-way
 * between them; where a pulse is three units long, as in 6/8, the last third of it. Back-beats are every second beat.
 */
export function isAtPlace({ bar, inBarTicks }: PlaceInBar, place: Place, ppq: number): boolean {
  const near = NEAR_QUARTERS * ppq;
  const isNear = (tick: number) => Math.abs(inBarTicks - tick) <= near;
  const { pulseTicks } = bar;
  const barTicks = bar.endTick - bar.startTick;
  const isAtNextBar = isNear(barTicks);
  const beat = pulseTicks.findIndex(isNear);
  switch (place) {
    case "downBeats":
      return isNear(0) || isAtNextBar;
    case "beats":
      return beat !== -1 || isAtNextBar;
    case "backBeats":
      return beat % 2 === 1;
    case "offBeats":
      return offBeatsOf(bar, ppq).some(isNear);
    case "betweens":
      return beat === -1 && !isAtNextBar && !offBeatsOf(bar, ppq).some(isNear);
    case "triplets":
      return pulseTicks.some((start, index) => {
        const length = (pulseTicks[index + 1] ?? barTicks) - start;
        return !isTernary(bar, length, ppq) && [1 / 3, 2 / 3].some((share) => isNear(start + share * length));
      });
    default:
      return place satisfies never;
  }
}

/** The off-beats of a bar, in ticks from its start. */
export function offBeatsOf(bar: Bar, ppq: number): readonly number[] {
  const barTicks = bar.endTick - bar.startTick;
  return bar.pulseTicks.map((start, index) => {
    const length = (bar.pulseTicks[index + 1] ?? barTicks) - start;
    return start + length * (isTernary(bar, length, ppq) ? 2 / 3 : 1 / 2);
  });
}

function isTernary({ meter }: Bar, lengthTicks: number, ppq: number): boolean {
  const unitTicks = (4 * ppq) / meter.denominator;
  return meter.denominator >= 8 && Math.abs(lengthTicks - 3 * unitTicks) < 1;
}

/** Whether a place is one of some steps of a grid, counted from 1 at the bar line. */
export function isOnStep({ inBarTicks }: PlaceInBar, grid: Grid, steps: readonly number[], ppq: number): boolean {
  const stepTicks = gridStepTicks(grid, ppq);
  return steps.some((step) => Math.abs(inBarTicks - (step - 1) * stepTicks) <= NEAR_QUARTERS * ppq);
}

/** Where a swung slot would be if it were straight; null if it is none of the late ones. */
function withoutSwing(inBarTicks: number, grid: Grid, ppq: number): number | null {
  const stepTicks = gridStepTicks(grid, ppq);
  const lateTicks = swingTicks(grid, stepTicks);
  if (lateTicks === 0) return null;
  const even = unswung(inBarTicks, stepTicks, lateTicks);
  return even === inBarTicks ? null : even;
}

/** Where a slot would be if it were straight: itself, if it is none of the late ones. */
function unswung(inBarTicks: number, stepTicks: number, lateTicks: number): number {
  const step = Math.round((inBarTicks - lateTicks) / stepTicks);
  const isLate = step > 0 && (step & 1) === 1 && Math.abs(inBarTicks - step * stepTicks - lateTicks) < 1;
  return isLate ? step * stepTicks : inBarTicks;
}

import { barAt, type Grid, gridStepTicks, type MeterMap, slotsBetween } from "../time/index.ts";

/** How loud the strokes of a held pad are. */
export const REPEAT_LOUDNESSES = ["as struck", "pressure", "ramp"] as const;
export type RepeatLoudness = (typeof REPEAT_LOUDNESSES)[number];

/** A held pad that strikes again and again. */
export interface Repeat {
  readonly grid: Grid;
  readonly loudness: RepeatLoudness;
  /** Of a ramp: how loud it becomes, 1 to 127, over how many quarters. */
  readonly rampTo: number;
  readonly rampQuarters: number;
}

/** What is known of a pad while it is held. */
export interface Held {
  /** Where it was pressed. */
  readonly sinceTick: number;
  /** How hard, 1 to 127. */
  readonly velocity: number;
  /** How hard it is pressed now, 1 to 127; null if the pad does not say. */
  readonly pressure: number | null;
}

export interface RepeatedStroke {
  readonly tick: number;
  /** 1 to 127. */
  readonly velocity: number;
}

/** Of pads that repeat by turns: how many they are, and which of them this one is, in the order in which they were pressed. */
export interface Turn {
  readonly count: number;
  readonly index: number;
}

/** A slot that comes within this share of a step after the press is the one that the press itself was meant for. */
const OWN_SLOT_SHARE = 0.5;

/**
 * The strokes of a held pad in a stretch: one on each slot, from the next after the press. The press itself is none of them.
 * @param startTick ascending from call to call: each stretch begins where the last one ended
 * @param turn given where it strikes only every so many slots; null for each of them
 */
export function repeatsBetween(
  { grid, loudness, rampTo, rampQuarters }: Repeat,
  { sinceTick, velocity, pressure }: Held,
  meterMap: MeterMap,
  startTick: number,
  endTick: number,
  turn: Turn | null = null,
): readonly RepeatedStroke[] {
  const { ppq } = meterMap;
  const ownEnd = sinceTick + gridStepTicks(grid, ppq) * OWN_SLOT_SHARE;
  return slotsBetween(grid, meterMap, startTick, endTick).flatMap((tick) => {
    if (tick < ownEnd || (turn && slotNumber(grid, meterMap, tick) % turn.count !== turn.index)) return [];
    const share = Math.min(1, (tick - sinceTick) / Math.max(1, rampQuarters * ppq));
    const wanted =
      loudness === "pressure"
        ? (pressure ?? velocity)
        : loudness === "ramp"
          ? velocity + (rampTo - velocity) * share
          : velocity;
    return [{ tick, velocity: Math.max(1, Math.min(127, Math.round(wanted))) }];
  });
}

/** The number of a slot in its bar. Bars begin anew, so that the same pad is on the beat in each. */
function slotNumber(grid: Grid, meterMap: MeterMap, tick: number): number {
  return slotsBetween(grid, meterMap, barAt(meterMap, tick).startTick, tick).length;
}

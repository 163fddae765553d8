import type { Groove } from "../document/groove.ts";
import { type GrooveNumbers, makeLayer, PLAIN_NUMBERS } from "./make-groove.ts";

const EIGHTHS = { family: "straight", denominator: 8 } as const;

function made(
  id: string,
  name: string,
  tags: readonly string[],
  numbers: Partial<GrooveNumbers>,
  snare?: Partial<GrooveNumbers>,
): Groove {
  const whole = { ...PLAIN_NUMBERS, ...numbers };
  const layers = [makeLayer(whole), ...(snare ? [makeLayer({ ...whole, ...snare }, "snare")] : [])];
  return { id, name, lengthQuarters: whole.lengthQuarters, grid: whole.grid, layers, tags };
}

/** The grooves that come with the application. */
export const GROOVES: readonly Groove[] = [
  made("light-swell", "Light swell", ["swing"], { swingPercent: 54, weakPercent: 12 }),
  made("river-sixteenths", "River sixteenths", ["swing"], { swingPercent: 57, weakPercent: 18 }),
  made("heavy-cargo", "Heavy cargo", ["swing", "laid back"], { swingPercent: 61, weakPercent: 22, layBackPercent: 8 }),
  made("long-shuffle", "Long shuffle", ["shuffle"], { grid: EIGHTHS, swingPercent: 66.7, weakPercent: 25 }),
  made("half-shuffle", "Half a shuffle", ["shuffle"], { grid: EIGHTHS, swingPercent: 58, weakPercent: 15 }),
  made("late-mooring", "Late mooring", ["laid back"], { weakPercent: 10 }, { pushPercent: 9 }),
  made("early-tide", "Early tide", ["ahead"], { pushPercent: -5, weakPercent: 10 }, { pushPercent: -2 }),
  made("low-water", "Low water", ["laid back"], { pushPercent: 6, layBackPercent: 7, weakPercent: 20 }),
  made("sea-legs", "Sea legs", ["swing", "loose"], {
    swingPercent: 55,
    drunkPercent: 5,
    lengthQuarters: 8,
    weakPercent: 15,
    seed: 3,
  }),
  made("tight-rigging", "Tight rigging", ["straight"], { weakPercent: 28 }),
  made("second-watch", "Second watch", ["swing", "laid back"], {
    swingPercent: 53,
    layBackPercent: 12,
    weakPercent: 30,
  }),
];

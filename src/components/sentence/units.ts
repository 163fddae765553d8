import { createContext } from "react";

/**
 * What a number that was typed in another unit is in the unit that is asked for; null if that cannot be said. A screen that knows the
 * tempo can say what ticks are in ms.
 */
export type InUnit = (value: number, typed: string, wanted: string) => number | null;

export const Units = createContext<InUnit>(() => null);

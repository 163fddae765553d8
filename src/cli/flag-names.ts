import { FLAG } from "../core/timing/index.ts";

/** Why a hit is doubtful, in the words of reports. */
export function flagNames(flags: number): readonly string[] {
  return Object.entries(FLAG).flatMap(([name, bit]) => (flags & bit ? [name] : []));
}

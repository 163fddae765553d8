import { type Arrangement, MOST_PATTERN_BARS, PATTERN_COLOURS, type SongPattern } from "../document/arrangement.ts";
import { addToSong, freeName } from "./change-patterns.ts";

/**
 * A pattern more, last in the list, under a name that no other has. A take that was never cut is a pattern itself, which the song
 * plays, so that nothing of it is lost from the song. Bars beyond what a pattern can hold are left out.
 * @param barCount how many bars the take has
 */
export function addPattern(
  arrangement: Arrangement,
  barCount: number,
  { name, bars, only }: Pick<SongPattern, "name" | "bars" | "only">,
  newId: () => string,
): { readonly arrangement: Arrangement; readonly pattern: SongPattern } {
  const before =
    arrangement.patterns.length > 0 || barCount === 0 ? arrangement : wholeTake(arrangement, barCount, newId);
  const pattern: SongPattern = {
    id: newId(),
    name: before.patterns.some((one) => one.name === name) ? freeName(before, name) : name,
    colour: PATTERN_COLOURS[before.patterns.length % PATTERN_COLOURS.length]!,
    bars: bars.slice(0, MOST_PATTERN_BARS),
    ...(only ? { only } : {}),
  };
  return { arrangement: { ...before, patterns: [...before.patterns, pattern] }, pattern };
}

function wholeTake(arrangement: Arrangement, barCount: number, newId: () => string): Arrangement {
  const whole: SongPattern = {
    id: newId(),
    name: "The take",
    colour: PATTERN_COLOURS[0],
    bars: Array.from({ length: Math.min(MOST_PATTERN_BARS, barCount) }, (_, bar) => bar),
  };
  return addToSong({ ...arrangement, patterns: [whole] }, whole.id, newId);
}

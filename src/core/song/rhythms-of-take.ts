import { NO_ARRANGEMENT, PATTERN_COLOURS, type SongPattern } from "../document/arrangement.ts";
import type { Pattern } from "../document/index.ts";
import { notesOut } from "../file/index.ts";
import { cutRhythm, type Rhythm, type RhythmStroke, rhythmBar, rhythmOf, twinKey } from "../pattern/index.ts";
import { buildTimeMaps } from "../time/index.ts";
import { barTicksOf, layPattern } from "./lay-pattern.ts";
import { barsOf, songVoices } from "./song-voices.ts";

/** A pattern of a take as it is heard and goes out: cleaned, with what the song does to it. */
export interface RhythmOfTake {
  /** Empty where the take was never cut. */
  readonly name: string;
  readonly rhythm: Rhythm;
  /** What it plays, as `twinKey` has it. Of bars in a row as they were recorded, so that it stays while the take is cleaned. */
  readonly played: string;
  /** The bars of the take that it plays, from 0. */
  readonly bars: readonly number[];
}

/**
 * The patterns of a take: those of its song, or a few bars each where it was never cut.
 * @param barsOfCut so many bars each then
 */
export function rhythmsOfTake(take: Pattern, barsOfCut: number): readonly RhythmOfTake[] {
  const maps = buildTimeMaps(take);
  const takeBars = barsOf(take, maps);
  const voices = songVoices(take, maps, takeBars);
  const arrangement = take.arrangement ?? NO_ARRANGEMENT;
  const recorded = rhythmOf(take);
  const noteOf = notesOut(take);
  const patterns = take.arrangement?.patterns ?? everyFew(takeBars.length, barsOfCut);
  return patterns.map((pattern): RhythmOfTake => {
    const starts = barTicksOf(pattern, takeBars);
    const laid = layPattern(arrangement, pattern, voices, takeBars, maps);
    const strokes = laid.voices.flatMap(({ rows, cleaned, isSilent }, lane): RhythmStroke[] => {
      const { hits, voice } = voices[lane]!;
      return [...rows].flatMap((row, at): RhythmStroke[] => {
        if (isSilent[at] === 1) return [];
        const hit = hits[row]!;
        const { note } = noteOf(hit);
        return [
          {
            family: voice.family,
            quarters: cleaned.ticks[at]! / take.ppq,
            velocity: cleaned.velocities[at]!,
            hit: note === hit.note ? hit : { ...hit, note },
          },
        ];
      });
    });
    const played = pattern.bars.flatMap((bar) => (bar === null || bar >= takeBars.length ? [] : [bar]));
    const rhythm: Rhythm = {
      bars: pattern.bars.map((bar, index) => {
        // A silent bar has a length of its own.
        const like = takeBars[bar ?? played[0] ?? 0] ?? takeBars[0]!;
        const lengthQuarters = (starts[index + 1]! - starts[index]!) / take.ppq;
        return { ...rhythmBar(like, starts[index]! / take.ppq, take.ppq), lengthQuarters };
      }),
      strokes: strokes.sort((a, b) => a.quarters - b.quarters),
    };
    const [first = 0] = played;
    const isInRow = pattern.bars.every((bar, index) => bar === first + index);
    const key = isInRow ? cutRhythm(recorded, first, first + played.length) : rhythm;
    return { name: pattern.name, rhythm, played: twinKey(key), bars: played };
  });
}

/** Bars that are cut every few, as patterns without a name. */
function everyFew(count: number, step: number): readonly SongPattern[] {
  return Array.from({ length: Math.ceil(count / step) }, (_, index) => ({
    id: `${index}`,
    name: "",
    colour: PATTERN_COLOURS[0],
    bars: Array.from({ length: Math.min(step, count - index * step) }, (_, bar) => index * step + bar),
  }));
}

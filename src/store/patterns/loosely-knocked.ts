import type { RhythmStroke } from "../../core/pattern/index.ts";
import { playStrokes } from "../../standin/player.ts";
import { createRandom } from "../../standin/random.ts";

const SEED = 611;

/** Strokes as a loose hand plays them at a tempo. */
export function looselyKnocked(strokes: readonly RhythmStroke[], bpm: number): readonly RhythmStroke[] {
  const msPerQuarter = 60_000 / bpm;
  const random = createRandom(SEED);
  return strokes.map((stroke) => {
    const { hit, velocity } = stroke;
    const strike = { note: hit.note, channel: 9, pedal: null, velocity };
    const [played] = playStrokes([{ ms: stroke.quarters * msPerQuarter, strike }], "loose", random);
    return { ...stroke, quarters: Math.max(0, played!.ms / msPerQuarter), velocity: played!.strike.velocity };
  });
}
